<script setup lang="ts">
/** What one really owns: pads by hue, cards and tools, and what wants doing about them. */
import { ElButton, ElInput, ElSegmented, ElSelect } from 'element-plus'
import { onKeyStroke, useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'

import type { Change, InkItem, Reminder, StashInk } from '@/shared/api'
import BringIn from './BringIn.vue'
import CardEditor from './CardEditor.vue'
import CopiesSheet from './CopiesSheet.vue'
import GiveOut from './GiveOut.vue'
import InkCircle from './InkCircle.vue'
import InkEditor from './InkEditor.vue'
import InkList from './InkList.vue'
import InkShelf from './InkShelf.vue'
import ManyInks from './ManyInks.vue'
import NextInk from './NextInk.vue'
import PhotoReader from './PhotoReader.vue'
import ToolEditor from './ToolEditor.vue'
import UnreadableList from './UnreadableList.vue'
import { useOverlap } from '../overlap/useOverlap'
import { useStash } from './useStash'
import {
  type Family,
  familySaid,
  familyWords,
  type Formula,
  formulaSaid,
  formulaWords,
  type PadState,
  padStateSaid,
  padStateWords,
  type Standing,
  standingSaid,
  standingWords,
  surfaceSaid,
  toolSaid,
  toolSetSaid,
} from '../../generated/words'
import { choices } from '@/shared/choices'
import { isCommand, typing } from '@/shared/keys'

const { stash, inks, cards, tools, reminders, unreadable, change } = useStash()
const { fillWithSample } = useOverlap()

type Kind = 'ink' | 'card' | 'tool'
const kind = ref<Kind>('ink')
const shown = useLocalStorage<'shelf' | 'circle' | 'list'>('wempa-stash-shown', 'shelf')
const order = useLocalStorage<'hue' | 'light' | 'name' | 'range'>('wempa-stash-order', 'hue')
const sought = ref('')
const formula = ref<Formula | undefined>()
const family = ref<Family | undefined>()
const range = ref<string | undefined>()
const condition = ref<string | undefined>()
const open = ref<number | 'new' | null>(null)
const several = ref(false)
const picked = ref<ReadonlySet<number>>(new Set())
const asking = ref<'many' | 'next' | 'photo' | 'file' | 'print' | 'copies' | null>(null)
const find = ref<InstanceType<typeof ElInput> | null>(null)

const orders = [
  { value: 'hue', label: 'by hue' },
  { value: 'light', label: 'light to dark' },
  { value: 'name', label: 'by name' },
  { value: 'range', label: 'by range' },
]
const rangeNames = computed(() => [...new Set(inks.value.map((ink) => ink.range).filter(Boolean))].sort())
const conditions = [...choices(padStateWords, padStateSaid), ...choices(standingWords, standingSaid)]
// What a search looks through, made once for each stash and not at each letter.
const texts = computed(
  () =>
    new Map(
      inks.value.map((ink) => [
        ink.id,
        `${ink.name} ${ink.range} ${formulaSaid[ink.formula]} ${ink.words} ${ink.item.notes}`.toLowerCase(),
      ]),
    ),
)
const sorted = computed(() => {
  const by: Record<typeof order.value, (a: StashInk, b: StashInk) => number> = {
    hue: (a, b) => a.place_by_hue - b.place_by_hue,
    light: (a, b) => (b.lab[0] ?? 0) - (a.lab[0] ?? 0),
    name: (a, b) => a.name.localeCompare(b.name),
    range: (a, b) => a.range.localeCompare(b.range) || a.name.localeCompare(b.name),
  }
  return [...inks.value].sort(by[order.value])
})
const seen = computed(() => {
  const words = sought.value.toLowerCase().split(/\s+/).filter(Boolean)
  return sorted.value.filter(
    (ink) =>
      words.every((word) => texts.value.get(ink.id)?.includes(word)) &&
      (!formula.value || ink.formula === formula.value) &&
      (!family.value || ink.family === family.value) &&
      (!range.value || ink.range === range.value) &&
      (!condition.value || ink.pad === condition.value || ink.item.standing === condition.value),
  )
})
const openInk = computed(() => inks.value.find((ink) => ink.id === open.value) ?? null)
const openCard = computed(() => cards.value.find((card) => card.id === open.value) ?? null)
const openTool = computed(() => tools.value.find((tool) => tool.id === open.value) ?? null)
const chosen = computed(() => inks.value.filter((ink) => picked.value.has(ink.id)))

function turnTo(now: Kind): void {
  kind.value = now
  open.value = null
}
function show(reminder: Reminder): void {
  turnTo(reminder.kind)
  open.value = reminder.id
}
function pick(ink: StashInk): void {
  const next = new Set(picked.value)
  if (!next.delete(ink.id)) next.add(ink.id)
  picked.value = next
}
function made(name: string): void {
  const all =
    kind.value === 'ink'
      ? inks.value
      : kind.value === 'card'
        ? cards.value
        : tools.value.map((t) => ({ id: t.id, name: t.item.name }))
  open.value = [...all].reverse().find((each) => each.name === name)?.id ?? null
}
function toggleSeveral(): void {
  several.value = !several.value
  picked.value = new Set()
}

/** Change all that are picked, in one step. */
async function changePicked(what: string, edit: (item: InkItem) => InkItem | null): Promise<void> {
  const ids = new Set(chosen.value.map((ink) => ink.id))
  const changes = (): Change[] =>
    inks.value
      .filter((ink) => ids.has(ink.id))
      .map((ink) => {
        const item = edit(ink.item)
        return {
          kind: 'ink',
          id: ink.id,
          revision: ink.revision,
          ...(item ? { item: item as unknown as Record<string, unknown> } : {}),
        }
      })
  if (await change(`${what} ${ids.size} inks`, changes)) picked.value = new Set()
}
const today = (): string => new Date().toLocaleDateString('sv')

onKeyStroke('/', (event) => {
  if (!isCommand(event)) return
  event.preventDefault()
  find.value?.focus()
})
onKeyStroke('n', (event) => {
  if (!isCommand(event)) return
  event.preventDefault()
  open.value = 'new'
})
onKeyStroke('Escape', (event) => {
  if (!typing(event) && document.querySelector('dialog[open]') === null) open.value = null
})
</script>

<template>
  <main v-if="stash" class="stash" :class="{ opened: open !== null }">
    <div class="above">
      <div class="kinds" role="tablist" aria-label="What is shown">
        <button
          v-for="[value, said, count] in [
            ['ink', 'Inks', inks.length],
            ['card', 'Cards', cards.length],
            ['tool', 'Tools', tools.length],
          ] as const"
          :key="value"
          type="button"
          role="tab"
          :aria-selected="kind === value"
          @click="turnTo(value)"
        >
          {{ said }} <small>{{ count }}</small>
        </button>
      </div>
      <template v-if="kind === 'ink'">
        <ElInput
          ref="find"
          v-model="sought"
          class="find"
          placeholder="Find an ink"
          aria-label="Find an ink"
          title="Key /"
          clearable
        />
        <ElSelect
          v-model="formula"
          class="filter"
          clearable
          placeholder="formula"
          :options="choices(formulaWords, formulaSaid)"
          aria-label="Formula shown"
        />
        <ElSelect
          v-model="family"
          class="filter"
          clearable
          placeholder="hue"
          :options="choices(familyWords, familySaid)"
          aria-label="Hue shown"
        />
        <ElSelect
          v-model="range"
          class="filter"
          clearable
          placeholder="range"
          :options="rangeNames.map((value) => ({ value, label: value }))"
          aria-label="Range shown"
        />
        <ElSelect
          v-model="condition"
          class="filter"
          clearable
          placeholder="condition"
          :options="conditions"
          aria-label="Condition shown"
        />
      </template>
      <span class="gap"></span>
      <ElButton type="primary" title="Key N" @click="open = 'new'">{{
        kind === 'ink' ? 'Add an ink' : kind === 'card' ? 'Add a card' : 'Add a tool'
      }}</ElButton>
    </div>

    <div v-if="kind === 'ink' && inks.length" class="ways">
      <ElSegmented
        v-model="shown"
        :options="[
          { value: 'shelf', label: 'Shelf' },
          { value: 'circle', label: 'Circle' },
          { value: 'list', label: 'List' },
        ]"
        aria-label="Shown as"
      />
      <ElSelect v-if="shown !== 'circle'" v-model="order" class="order" :options="orders" aria-label="Order" />
      <button type="button" class="word" :aria-pressed="several" @click="toggleSeveral">Several at once</button>
      <span class="gap"></span>
      <button type="button" class="word" @click="asking = 'many'">Many inks</button>
      <button type="button" class="word" @click="asking = 'photo'">Off a photo</button>
      <button type="button" class="word" @click="asking = 'file'">Open a file</button>
      <button type="button" class="word" @click="asking = 'next'">Which ink next?</button>
      <button type="button" class="word" @click="asking = 'print'">Print and give out</button>
      <button type="button" class="word" @click="asking = 'copies'">Copies</button>
    </div>

    <div class="shown">
      <UnreadableList
        :found="unreadable"
        @discard="(each) => change(`Throw away ${each.name}`, [{ kind: each.kind, id: each.id }])"
      />
      <details v-if="reminders.length" class="wants">
        <summary>{{ reminders.length }} {{ reminders.length === 1 ? 'thing wants' : 'things want' }} doing</summary>
        <ul>
          <li v-for="(each, i) in reminders" :key="i">
            <button type="button" @click="show(each)">{{ each.text }}</button>
          </li>
        </ul>
      </details>
      <template v-if="kind === 'ink'">
        <div v-if="!inks.length" class="first">
          <h1>An empty shelf</h1>
          <p>
            Put your own inks on it{{ cards.length ? '; the usual cards and tools lie ready' : '' }}. Or look around
            with the sample stash first.
          </p>
          <div class="deeds">
            <ElButton size="large" type="primary" @click="asking = 'many'">Put in many inks</ElButton>
            <ElButton size="large" @click="open = 'new'">Add one ink</ElButton>
            <ElButton size="large" @click="asking = 'photo'">Read inks off a photo</ElButton>
            <ElButton size="large" @click="asking = 'file'">Open a file</ElButton>
          </div>
          <div class="deeds">
            <ElButton size="large" @click="fillWithSample">Look around with the sample stash</ElButton>
            <ElButton size="large" @click="asking = 'copies'">Put a copy back</ElButton>
          </div>
        </div>
        <p v-else-if="!seen.length" class="none">
          No ink like that.
          <button type="button" @click="((sought = ''), (formula = family = range = condition = undefined))">
            Show all
          </button>
        </p>
        <component
          :is="shown === 'shelf' ? InkShelf : shown === 'circle' ? InkCircle : InkList"
          v-else
          :inks="seen"
          :open="typeof open === 'number' ? open : null"
          :picked="picked"
          :several="several"
          @open="(ink: StashInk) => (open = ink.id)"
          @pick="pick"
        />
      </template>
      <div v-else-if="kind === 'card'" class="cards">
        <button
          v-for="card in cards"
          :key="card.id"
          type="button"
          :aria-pressed="open === card.id"
          @click="open = card.id"
        >
          <span class="sheet" :style="{ backgroundColor: card.hex }"></span>
          <b>{{ card.name }}</b>
          <span>{{ surfaceSaid[card.surface] }}{{ card.grams ? `, ${Math.round(card.grams)} g/m²` : '' }}</span>
          <span v-if="card.item.left !== undefined && card.item.left !== null">{{ card.item.left }} left</span>
        </button>
      </div>
      <ul v-else class="tools">
        <li v-for="tool in tools" :key="tool.id">
          <button type="button" :aria-pressed="open === tool.id" @click="open = tool.id">
            <b>{{ tool.item.name }}</b>
            <span>
              {{
                [
                  toolSaid[tool.item.tool],
                  tool.item.size ? `${tool.item.size} mm` : '',
                  tool.item.kept_for ? `for ${toolSetSaid[tool.item.kept_for]}` : '',
                  tool.item.family ? familySaid[tool.item.family] : '',
                  tool.item.worn ? 'worn' : '',
                ]
                  .filter(Boolean)
                  .join(', ')
              }}
            </span>
          </button>
        </li>
      </ul>
    </div>

    <aside v-if="open !== null" class="drawer">
      <InkEditor
        v-if="kind === 'ink' && (open === 'new' || openInk)"
        :key="open"
        :ink="openInk"
        @close="open = null"
        @made="made"
      />
      <CardEditor
        v-else-if="kind === 'card' && (open === 'new' || openCard)"
        :key="`c${open}`"
        :card="openCard"
        @close="open = null"
        @made="made"
      />
      <ToolEditor
        v-else-if="kind === 'tool' && (open === 'new' || openTool)"
        :key="`t${open}`"
        :tool="openTool"
        @close="open = null"
        @made="made"
      />
      <p v-else class="none">It is no longer here.</p>
    </aside>

    <div v-if="several && kind === 'ink'" class="together" role="group" aria-label="All that are picked">
      <b>{{ chosen.length }} picked</b>
      <ElButton @click="picked = new Set(seen.map((ink) => ink.id))">All {{ seen.length }} shown</ElButton>
      <ElSelect
        :model-value="undefined"
        placeholder="set the formula"
        :options="choices(formulaWords, formulaSaid)"
        :disabled="!chosen.length"
        aria-label="Formula of all picked"
        @update:model-value="
          (f: Formula) =>
            changePicked('Set the formula of', (item) => ({ ...item, formula: f, ink: { ...item.ink, formula: f } }))
        "
      />
      <ElSelect
        :model-value="undefined"
        placeholder="on the shelf as"
        :options="choices(standingWords, standingSaid)"
        :disabled="!chosen.length"
        aria-label="Standing of all picked"
        @update:model-value="(s: Standing) => changePicked('Change', (item) => ({ ...item, standing: s }))"
      />
      <ElSelect
        :model-value="undefined"
        placeholder="pads are"
        :options="choices(padStateWords, padStateSaid)"
        :disabled="!chosen.length"
        aria-label="Pads of all picked"
        @update:model-value="(p: PadState) => changePicked('Change', (item) => ({ ...item, pad: p }))"
      />
      <ElButton
        :disabled="!chosen.length"
        @click="changePicked('Re-ink', (item) => ({ ...item, re_inked: today(), pad: null }))"
        >Re-inked today</ElButton
      >
      <ElButton :disabled="!chosen.length" @click="asking = 'print'">Print a sheet of them</ElButton>
      <ElButton :disabled="!chosen.length" @click="changePicked('Delete', () => null)">Delete</ElButton>
    </div>

    <ManyInks v-if="asking === 'many'" @close="asking = null" @made="asking = null" />
    <NextInk v-if="asking === 'next'" @close="asking = null" />
    <PhotoReader v-if="asking === 'photo'" @close="asking = null" @made="asking = null" />
    <BringIn v-if="asking === 'file'" @close="asking = null" />
    <GiveOut v-if="asking === 'print'" :picked="several ? chosen : []" @close="asking = null" />
    <CopiesSheet v-if="asking === 'copies'" @close="asking = null" />
  </main>
</template>

<style scoped src="./StashView.css"></style>

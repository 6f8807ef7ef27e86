<script setup lang="ts">
/** The first screen: inks on a card, crossing; the card cut through to change them; the verdict and what would help. */
import { onKeyStroke, useLocalStorage, useSessionStorage } from '@vueuse/core'
import { ElButton, ElDropdown, ElDropdownItem, ElDropdownMenu } from 'element-plus'
import { computed, defineAsyncComponent, ref, shallowRef, watch } from 'vue'

import NumberBox from '@/shared/NumberBox.vue'
import type { Look, StashInk } from '@/shared/api'
import BoardTabs from '@/shared/BoardTabs.vue'
import CardShelf from '@/shared/CardShelf.vue'
import ColourBoard from './ColourBoard.vue'
import CrossingCard from './CrossingCard.vue'
import EdgeView from './EdgeView.vue'
import FirstWalk from './FirstWalk.vue'
import HelpList from './HelpList.vue'
import InkRack from '@/shared/InkRack.vue'
import NudgeBoard from './NudgeBoard.vue'
import AmountField from './AmountField.vue'
import OtherShowing from './OtherShowing.vue'
import VerdictSlip from './VerdictSlip.vue'
import TypedInput from '@/shared/TypedInput.vue'
import { useOverlap } from './useOverlap'
import { useWalk } from './useWalk'
import { usePanel } from '../panels/usePanel'
import { useLog } from '../log/useLog'
import { useTable } from '../table/useTable'
import { useStash } from '../stash/useStash'
import {
  MAX_CROSSING,
  type Preset,
  drawnFormSaid,
  drawnFormWords,
  presetSaid,
  presetWords,
  surfaceSaid,
  type Treatment,
} from '../../generated/words'
import { saveFile } from '@/shared/files'
import { isCommand, nextOf } from '@/shared/keys'
import { entryNames } from '@/shared/names'

const OverlapDrawer = defineAsyncComponent(() => import('./OverlapDrawer.vue'))
const CompareSheet = defineAsyncComponent(() => import('./CompareSheet.vue'))
const KeyList = defineAsyncComponent(() => import('@/shared/KeyList.vue'))

const room = useOverlap()
const { away: fromPanel, seamBack, ofSet } = usePanel()
const {
  inks,
  cards,
  desk,
  overlap,
  stack,
  layers,
  card,
  mudLine,
  ownLine,
  loading,
  active,
  atHand,
  advice,
  strips,
  field,
  board,
} = room
const { inkOf, attempt } = useStash()
const { logIt } = useLog()
const { bring } = useTable()
const walk = useWalk()
function walkAgain(): void {
  sheet.value = null
  void walk.start()
}
const walking = computed(() => walk.number.value > 0 || walk.stage.value === 'done')

const showings = [
  { value: 'crossing', said: 'Crossing' },
  { value: 'amounts', said: 'How much of each' },
  { value: 'stamped', said: 'Stamped' },
  { value: 'doses', said: 'Light to heavy' },
  { value: 'drops', said: 'Drops' },
] as const
type Showing = (typeof showings)[number]['value']
const boards = [
  { value: 'help', said: 'Fix it' },
  { value: 'nudge', said: 'Nudge it' },
  { value: 'colour', said: 'The colour' },
] as const
const showing = useLocalStorage<Showing>('wempa-showing', 'crossing')
const shownAs = computed(() => showings.find((way) => way.value === showing.value)?.said)
const sheet = ref<'overlaps' | 'compare' | 'keys' | null>(null)
const other = ref<number | null>(null)
const pointed = ref<string | null>(null)
const pinned = ref<string | null>(null)

const cardName = computed(() => card.value?.name ?? 'white card')
const layNames = computed(() => entryNames(stack.value, inks.value))
/** Names of the lay-downs only, as they cross. */
const names = computed(() => layNames.value.filter((_, n) => !stack.value[n]?.treatment))
const chosen = computed(() =>
  layers.value.filter((layer) => layer.place !== null).map((layer) => layer.inks[0]?.id ?? null),
)
const cut = computed(() =>
  layers.value.map((layer, n) => ({
    ...layer,
    name: layNames.value[n] ?? '',
    hex:
      layer.entry.mix || !layer.inks[0]
        ? (desk.value?.crossing.alone[layer.place ?? -1]?.colour.hex ?? '#888888')
        : layer.inks[0].hex,
  })),
)
const into = computed(() => {
  const name = layNames.value[active.value]
  return name && !stack.value[active.value]?.treatment
    ? `Press to use it in place of ${name}`
    : 'Press to lay it on top'
})

interface Subject {
  look: Look
  name: string
  key: string
}
const whole = computed(() => {
  const [first, second] = names.value
  if (!first) return 'The bare card'
  if (!second) return first
  return layers.value.length === 2 ? `${second} over ${first}` : 'All of it'
})
/** The swatch that the slip is about: pointed at, else pinned, else all of it. */
const subject = shallowRef<Subject | null>(null)
async function findSubject(): Promise<void> {
  const now = desk.value
  const seen = now?.crossing
  if (!seen) return
  const key = pointed.value ?? pinned.value ?? 'full'
  const [one, two] = key.split('-')
  const alone = one === 'alone' ? seen.alone[Number(two)] : undefined
  const pair = seen.pairs.find((each) => `${each.below}-${each.above}` === key)
  if (key === 'wet') subject.value = { look: seen.wet, name: 'All of it, while wet', key }
  else if (alone) subject.value = { look: alone, name: `${names.value[Number(two)]} alone`, key }
  else if (pair) {
    const either = pair.either_order ? ', in either order' : ''
    const name = `${names.value[pair.above]} over ${names.value[pair.below]}${either}`
    const look = await room.lookAtPair(pair.below, pair.above)
    if (look && desk.value === now && key === (pointed.value ?? pinned.value)) subject.value = { look, name, key }
  } else subject.value = { look: seen.full, name: whole.value, key: 'full' }
}
watch([desk, pointed, pinned], findSubject, { immediate: true })
watch(
  () => `${overlap.value?.id} ${names.value.join()}`,
  () => ((pointed.value = null), (pinned.value = null)),
)

const pin = (key: string): void => {
  pinned.value = pinned.value === key || key === 'full' ? null : key
}

// A caution is shown once in a session, and can be put away.
const away = useSessionStorage<string[]>('wempa-cautions', [])
const notes = computed(() => desk.value?.crossing.full.notes.filter((note) => !note.code.startsWith('caution')) ?? [])
const cautions = computed(
  () =>
    desk.value?.crossing.full.notes.filter(
      (note) => note.code.startsWith('caution') && !away.value.includes(note.code),
    ) ?? [],
)

watch(
  () => showing.value === 'doses' && overlap.value?.revision,
  (wanted) => wanted && void room.fetchStrips(),
  { immediate: true },
)

watch(
  () => showing.value === 'amounts' && overlap.value?.revision,
  (wanted) => wanted && void room.fetchField(),
  { immediate: true },
)
function layAmounts(column: number, row: number): void {
  const now = field.value
  if (!now) return
  const axes = [[now.across, column], [now.up, row], ...(now.step ? [[now.step, now.at] as const] : [])] as const
  void room.layAmounts(axes.map(([axis, at]) => ({ entry: axis.entry, amount: axis.amounts[at] ?? 0 })))
}

const choose = (ink: StashInk, onTop: boolean): void => void room.layInk(ink, onTop)
function passes(by: number): void {
  const entry = stack.value[active.value]
  if (!entry || entry.treatment) return
  if (entry.dose !== null && entry.dose !== undefined)
    void room.changeLayer(
      active.value,
      { dose: Math.max(0, Math.round((entry.dose + by / 10) * 100) / 100) },
      'Change the dose',
    )
  else void room.changeLayer(active.value, { passes: Math.max(1, (entry.passes ?? 1) + by) }, 'Change the passes')
}
function wetOrDry(): void {
  const at = active.value < stack.value.length ? active.value : stack.value.length - 1
  const entry = stack.value[at]
  if (at < 1 || !entry || entry.treatment) return
  void room.changeLayer(at, { over: entry.over === 'wet' ? 'dry' : 'wet' }, 'Wet or dry')
}
const setLaid = (count: number): void => void room.change({ laid: count }, 'Where the work stands')
function applyFirst(): void {
  const first = advice.value?.fixes.find((fix) => fix.change)
  if (first?.change) void room.apply(first.change, first.text)
}

const logNow = (): void => {
  if (overlap.value?.stack.length) logIt({ overlap_id: overlap.value.id })
}

const toTable = (): void => {
  if (overlap.value?.stack.length) bring('overlap', [overlap.value.id])
}

const keys: Record<string, () => unknown> = {
  '?': () => (sheet.value = 'keys'),
  '/': () => document.querySelector<HTMLElement>('.rack input')?.focus(),
  '+': () => passes(1),
  '=': () => passes(1),
  '-': () => passes(-1),
  w: wetOrDry,
  r: () => room.swap(),
  n: () => (active.value = stack.value.length),
  Delete: () => room.remove(active.value),
  u: () => room.layBarrier(),
  d: () => room.treat('spritz'),
  h: () => room.treat('heat'),
  t: () => room.treat('glaze'),
  b: () => room.treat('blot'),
  l: () =>
    setLaid(active.value < (overlap.value?.laid ?? 0) ? active.value : Math.min(active.value + 1, stack.value.length)),
  f: applyFirst,
  s: () => (showing.value = nextOf(showings, showing.value)),
  v: () => (board.value = nextOf(boards, board.value)),
  o: () => (sheet.value = 'overlaps'),
  c: () => compare(null),
  k: logNow,
  g: toTable,
}
onKeyStroke(Object.keys(keys), (event) => {
  if (!isCommand(event)) return
  event.preventDefault()
  keys[event.key]?.()
})

function compare(id: number | null): void {
  other.value = id
  sheet.value = 'compare'
}
const files = computed(() => [
  ...drawnFormWords.map((form) => ({
    href: `/api/overlaps/${overlap.value?.id}/export.${form}`,
    said: `The overlap as ${drawnFormSaid[form]}`,
  })),
  { href: `/api/overlaps/${overlap.value?.id}/export.json`, said: 'Job (JSON)' },
])
const picker = ref<HTMLInputElement | null>(null)
async function takeIn(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  if (file) await room.takeIn(file)
  input.value = ''
}
/** Every layer's ink as a band of a panel, laid as it is laid here. */
const bands = computed(() =>
  (overlap.value?.stack ?? []).flatMap(({ ink_id, tool, load, passes, dose }) =>
    ink_id ? [{ ink_id, ...(dose ? { dose } : { tool, load, passes }) }] : [],
  ),
)
function ready(command: Preset | 'panel'): void {
  if (command === 'panel')
    void ofSet(bands.value, `${overlap.value?.name ?? 'New'}: a panel`, overlap.value?.card_id ?? null)
  else void room.usePreset(command)
}
const handOver = (command: string): unknown =>
  command === 'take-in' ? picker.value?.click() : attempt(() => saveFile(command))
</script>

<template>
  <main v-if="desk && overlap" class="work">
    <InkRack :inks="atHand" :chosen="chosen" :into="into" class="inks" @choose="choose" />

    <div class="table">
      <FirstWalk v-if="walking" />
      <p v-if="fromPanel && fromPanel.overlap === overlap.id" class="from" role="note">
        <span>A seam of a panel: change how its two inks are laid, then take it back.</span>
        <button type="button" class="word" @click="seamBack">Take it back to the panel</button>
      </p>
      <div class="bar">
        <TypedInput
          :value="overlap.name"
          class="name"
          aria-label="Name of this overlap"
          @typed="(name) => name.trim() && room.change({ name: name.trim() }, 'Rename')"
        />
        <button type="button" class="word" title="All overlaps (O)" @click="sheet = 'overlaps'">Overlaps</button>
        <ElDropdown trigger="click" @command="ready">
          <button type="button" class="word">Ready-made ▾</button>
          <template #dropdown>
            <ElDropdownMenu>
              <ElDropdownItem v-for="preset in presetWords" :key="preset" :command="preset">{{
                presetSaid[preset]
              }}</ElDropdownItem>
              <ElDropdownItem divided command="panel" :disabled="!bands.length">A panel of these inks</ElDropdownItem>
            </ElDropdownMenu>
          </template>
        </ElDropdown>
        <ElDropdown trigger="click" @command="(way: Showing) => (showing = way)">
          <button type="button" class="word" title="Show it another way (S)">{{ shownAs }} ▾</button>
          <template #dropdown>
            <ElDropdownMenu>
              <ElDropdownItem v-for="way in showings" :key="way.value" :command="way.value">{{
                way.said
              }}</ElDropdownItem>
            </ElDropdownMenu>
          </template>
        </ElDropdown>
        <ElDropdown trigger="click" @command="handOver">
          <button type="button" class="word">Export and print ▾</button>
          <template #dropdown>
            <ElDropdownMenu>
              <ElDropdownItem v-for="file in files" :key="file.href" :command="file.href">{{
                file.said
              }}</ElDropdownItem>
              <ElDropdownItem divided command="take-in">Open a file …</ElDropdownItem>
            </ElDropdownMenu>
          </template>
        </ElDropdown>
        <input
          ref="picker"
          type="file"
          accept=".json,application/json"
          class="for-readers"
          tabindex="-1"
          aria-label="File to open"
          @change="takeIn"
        />
        <ElDropdown
          trigger="click"
          :disabled="!overlap.stack.length"
          @command="(to: string) => (to === 'log' ? logNow() : toTable())"
        >
          <button
            type="button"
            class="word"
            :disabled="!overlap.stack.length"
            title="Into the swatch book (K), to the table (G)"
          >
            Go on ▾
          </button>
          <template #dropdown>
            <ElDropdownMenu>
              <ElDropdownItem command="log">Log it in the swatch book</ElDropdownItem>
              <ElDropdownItem command="table">Make it at the table</ElDropdownItem>
            </ElDropdownMenu>
          </template>
        </ElDropdown>
        <button type="button" class="word" title="Keys (?)" aria-label="Keys" @click="sheet = 'keys'">?</button>
      </div>
      <div class="mat">
        <CrossingCard
          v-if="showing === 'crossing'"
          :crossing="desk.crossing"
          :names="names"
          :card-name="cardName"
          :mud-line="mudLine"
          :pointed="pointed ?? pinned"
          @point="(key) => (pointed = key)"
          @pin="pin"
        />
        <AmountField
          v-else-if="showing === 'amounts' && field"
          :field="field"
          :crossing="desk.crossing"
          :lay-names="layNames"
          :card-name="cardName"
          :mud-line="mudLine"
          @lay="layAmounts"
          @step="(at) => room.fetchField(at)"
        />
        <OtherShowing
          v-else
          :crossing="desk.crossing"
          :names="names"
          :lay-names="layNames"
          :card-name="cardName"
          :mode="showing"
          :mud-line="mudLine"
          :strips="strips"
        />
      </div>
      <EdgeView
        :layers="cut"
        :crossing="desk.crossing"
        :card-hex="desk.crossing.bare.colour.hex"
        :active="active"
        :laid="overlap.laid ?? 0"
        @activate="(index) => (active = index)"
        @change="(index, edit, what) => room.changeLayer(index, edit, what)"
        @move="(from, to) => room.move(from, to)"
        @remove="(index) => room.remove(index)"
        @treat="(treatment: Treatment) => room.treat(treatment)"
        @barrier="room.layBarrier()"
        @laid="setLaid"
        @mix="(index) => room.mixWithBelow(index)"
        @apart="(index) => room.takeApart(index)"
      />
    </div>

    <aside class="verdicts">
      <p v-if="walk.stage.value === 'offered'" class="note offer" role="note">
        New here? <button type="button" class="link" @click="walk.start">A walk of four steps</button>
        <button type="button" class="link" @click="walk.leave">Not now</button>
      </p>
      <div class="on">
        <span
          >on <b>{{ cardName }}</b><template v-if="card">, {{ surfaceSaid[card.surface] }}</template></span
        >
        <label class="line" title="What counts as mud for you">
          call it mud from
          <NumberBox
            :model-value="mudLine"
            :min="0"
            :max="100"
            :step="5"
            aria-label="Mud line"
            @update:model-value="room.setMudLine"
          />
        </label>
        <button v-if="ownLine !== null" type="button" class="link" @click="room.setMudLine(null)">
          back to my usual line
        </button>
      </div>
      <div aria-label="Verdict" role="region" aria-live="polite">
        <VerdictSlip
          v-if="subject"
          :look="subject.look"
          :name="subject.name"
          :mud-line="mudLine"
          :plain="!names.length"
        />
      </div>
      <p v-for="caution in cautions" :key="caution.code" class="caution" role="note">
        <span><b>Take care.</b> {{ caution.text }}</span>
        <button type="button" class="word" @click="away = [...away, caution.code]">Understood</button>
      </p>
      <BoardTabs
        v-if="names.length"
        of="overlap"
        :boards="boards"
        :at="board"
        label="Beside the verdict"
        @turn="(to) => (board = to)"
      />
      <div v-if="names.length" id="overlap-board" role="tabpanel" :aria-labelledby="`overlap-tab-${board}`">
        <HelpList
          v-if="board === 'help'"
          :advice="advice"
          :full="desk.crossing.full"
          :mud-line="mudLine"
          @apply="(made, what) => room.apply(made, what)"
        />
        <NudgeBoard
          v-else-if="board === 'nudge'"
          :advice="advice"
          :full="desk.crossing.full"
          :names="layNames"
          :laid="overlap.laid ?? 0"
          @apply="(made, what) => room.apply(made, what)"
        />
        <ColourBoard
          v-else-if="subject"
          :look="subject.look"
          :what="subject.name"
          :colour-name="overlap.colour_name ?? ''"
          :advice="advice"
          :crossing="desk.crossing"
          :inks="inkOf"
          @name="(name) => room.change({ colour_name: name }, 'Name the colour')"
        />
      </div>
      <p v-if="names.length > MAX_CROSSING" class="note">
        The lowest {{ MAX_CROSSING }} layers cross; all of it has them all.
      </p>
      <p v-for="note in notes" :key="note.text" class="note">{{ note.text }}</p>
    </aside>
    <CardShelf :cards="cards" :chosen="card?.id ?? null" class="cards" @choose="(each) => room.chooseCard(each.id)" />

    <OverlapDrawer
      v-if="sheet === 'overlaps'"
      :mud-line="mudLine"
      @close="sheet === 'overlaps' && (sheet = null)"
      @compare="compare"
    />
    <CompareSheet v-else-if="sheet === 'compare'" :first="other" @close="sheet === 'compare' && (sheet = null)" />
    <KeyList v-else-if="sheet === 'keys'" :walk="walk.possible.value" @walk="walkAgain" @close="sheet = null" />
  </main>

  <main v-else-if="!loading" class="empty">
    <h1>Nothing on the table yet</h1>
    <p>
      Wempa needs two inks to say how they will blend;
      {{ inks.length ? 'there are not yet two on the shelf that you own.' : 'your shelf is empty.' }}
    </p>
    <a class="own" href="#/stash">Put your own inks on the shelf</a>
    <ElButton v-if="!inks.length" size="large" type="primary" @click="room.fillWithSample"
      >Begin with the sample stash</ElButton
    >
  </main>

  <main v-else class="empty" aria-busy="true"><p>One moment …</p></main>
</template>

<style scoped src="./OverlapView.css"></style>

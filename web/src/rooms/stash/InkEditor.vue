<script setup lang="ts">
/** One ink, opened: everything its owner keeps about it. Changes are stored as they are made. */
import { ElButton, ElCheckbox, ElInput, ElSegmented, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'

import NumberBox from '@/shared/NumberBox.vue'
import type { GivenColour, InkItem, StashInk } from '@/shared/api'
import { useOverlap } from '../overlap/useOverlap'
import { useDraft } from './useDraft'
import { useStash } from './useStash'
import {
  type Formula,
  formulaSaid,
  formulaWords,
  type Known,
  loadSaid,
  loadWords,
  padKindSaid,
  padKindWords,
  padStateSaid,
  padStateWords,
  placeSaid,
  placeWords,
  standingSaid,
  standingWords,
  toolSaid,
  toolWords,
} from '../../generated/words'
import { blankInkItem } from '../../generated/blanks'
import { choices } from '@/shared/choices'
import { readColour } from '@/shared/colour'
import { at, router } from '@/shared/router'
import { useMatch } from '../search/useMatch'
import ColourEntry from './ColourEntry.vue'
import FieldRow from './FieldRow.vue'
import HomeTest from './HomeTest.vue'
import OverridesEditor from './OverridesEditor.vue'
import TypedInput from '@/shared/TypedInput.vue'

const { ink } = defineProps<{ ink: StashInk | null }>()
const emit = defineEmits<{ close: []; made: [name: string] }>()
const { inks, cards, ranges, nameOf, change } = useStash()
const { asked: wanted } = useMatch()
const { layInk, fetchDesk, active } = useOverlap()

const { draft, keep, put, make, remove } = useDraft('ink', () => ink, blankInkItem)
const testing = ref(false)
const swatch = computed(() => draft.value.ink.swatch)
const hasColour = computed(() =>
  Boolean(swatch.value.colour.hex ?? swatch.value.colour.lab ?? swatch.value.colour.spectrum),
)
const hex = computed(() => ink?.hex ?? swatch.value.colour.hex ?? null)
const darkCards = computed(() => [
  { value: 0, label: 'none' },
  ...cards.value.filter((card) => card.dark).map((card) => ({ value: card.id, label: card.name })),
])
// A dark card counts once the colour on it is said.
const darkChosen = ref(0)
const onDarkCard = computed(() => {
  const on = swatch.value.on_dark?.card
  if (!on) return darkChosen.value
  return cards.value.find((card) => JSON.stringify(card.item.card) === JSON.stringify(on))?.id ?? 0
})
const darkText = computed(() => swatch.value.on_dark?.colour.hex ?? swatch.value.on_dark?.colour.lab?.join(' ') ?? '')
const rangeNames = computed(() => [...new Set(inks.value.map((each) => each.range).filter(Boolean))].sort())
const ownRange = computed(() => ranges.value.find((each) => each.item.name === draft.value.range) ?? null)
const onCards = computed(() => [
  { value: 0, label: 'smooth white card' },
  ...cards.value.map((card) => ({ value: card.id, label: card.name })),
])
const onCard = computed(() => {
  const on = swatch.value.card
  if (typeof on === 'string') return 0
  return cards.value.find((card) => JSON.stringify(card.item.card) === JSON.stringify(on))?.id ?? 0
})

function putInk(part: Partial<InkItem['ink']>): void {
  put({ ink: { ...draft.value.ink, ...part } })
}

function setColour(given: { colour: GivenColour; known: Known; spread: number | null }): void {
  putInk({ swatch: { ...swatch.value, ...given } })
}

type MadeWith = NonNullable<InkItem['ink']['swatch']['made_with']>
const PRINT: MadeWith = { tool: 'pad', load: 'normal', passes: 1 }
/** How the swatch was made: as it says, or as the service supposes. */
const made = computed<MadeWith>(() => swatch.value.made_with ?? ink?.made_with ?? PRINT)

function setMade(part: Partial<MadeWith>): void {
  putInk({ swatch: { ...swatch.value, made_with: { ...made.value, ...part } } })
}

const lidShows = computed(() => (!swatch.value.made_with ? 'blend' : made.value.tool === 'pad' ? 'print' : ''))
/** Makers print their lids alike, so one answer is for all lids of the range. */
async function setLids(shows: string): Promise<void> {
  const made_with = shows === 'print' ? PRINT : null
  const own = inks.value.filter(
    (each) => each.item.ink.swatch.known === 'lid' && (each.id === ink?.id || (ink?.range && each.range === ink.range)),
  )
  const what = shows === 'print' ? 'a print' : 'a blend'
  await change(`Lids of ${ink?.range || draft.value.name} show ${what}`, () =>
    own.map((each) => ({
      kind: 'ink' as const,
      id: each.id,
      revision: inks.value.find((now) => now.id === each.id)?.revision ?? each.revision,
      item: {
        ...each.item,
        ink: { ...each.item.ink, swatch: { ...each.item.ink.swatch, made_with } },
      } as unknown as Record<string, unknown>,
    })),
  )
}

function setOnCard(id: number): void {
  const card = cards.value.find((each) => each.id === id)
  putInk({ swatch: { ...swatch.value, card: card ? card.item.card : 'white' } })
}

/** A second swatch of the same dose on dark card tells hiding power band by band. */
function setDark(id: number, text: string): void {
  darkChosen.value = id
  const card = cards.value.find((each) => each.id === id)
  const colour = readColour(text)
  if (card && colour) putInk({ swatch: { ...swatch.value, on_dark: { card: card.item.card, colour } } })
  else if (!card) putInk({ swatch: { ...swatch.value, on_dark: null } })
}

/** Keep the swatch that is used now among the others, so that another can be entered. */
function keepSwatch(): void {
  put({ other_swatches: [...draft.value.other_swatches, swatch.value] })
}
function useSwatch(i: number): void {
  const other = draft.value.other_swatches[i]
  if (!other) return
  const others = draft.value.other_swatches.filter((_, k) => k !== i)
  put(
    { other_swatches: [...others, swatch.value], ink: { ...draft.value.ink, swatch: other } },
    'Use another swatch of',
  )
}
function dropSwatch(i: number): void {
  put({ other_swatches: draft.value.other_swatches.filter((_, k) => k !== i) })
}

async function add(): Promise<void> {
  const name = await make()
  if (name) emit('made', name)
}

async function copy(): Promise<void> {
  if (!ink) return
  const name = `${ink.name}, copy`
  if (await change(`Copy ${ink.name}`, [{ kind: 'ink', item: { ...ink.item, name } }])) emit('made', name)
}

async function away(): Promise<void> {
  if (await remove()) emit('close')
}

async function lay(order: 0 | 1): Promise<void> {
  if (!ink) return
  await fetchDesk()
  active.value = order
  await layInk(ink, false)
  void router.push(at('overlap'))
}

/** Which of the others make its colour. */
function fromOthers(): void {
  if (!ink) return
  wanted.value = { ...wanted.value, target: { ink_id: ink.id }, name: nameOf(ink.id) }
  void router.push(at('match'))
}

function tested(formula: Formula): void {
  testing.value = false
  put({ formula })
}
</script>

<template>
  <section class="editor" :aria-label="ink ? `${ink.name}, opened` : 'A new ink'">
    <header>
      <h2>
        {{ ink ? ink.name : 'A new ink'
        }}<small v-if="ink && nameOf(ink.id) !== ink.name">, {{ formulaSaid[ink.formula] }}</small>
      </h2>
      <button type="button" class="plain" aria-label="Close" @click="emit('close')">Close</button>
    </header>

    <ColourEntry
      :colour="hasColour ? swatch.colour : null"
      :known="swatch.known ?? 'typed'"
      :spread="swatch.spread ?? null"
      :hex="hex"
      :formula="draft.formula"
      @set="setColour"
    />

    <div class="pair">
      <FieldRow label="Name"
        ><ElInput
          :model-value="draft.name"
          maxlength="120"
          @input="(v: string) => (draft.name = v)"
          @change="keep('Rename')"
      /></FieldRow>
      <FieldRow label="Range">
        <ElInput
          :model-value="draft.range"
          maxlength="120"
          list="range-names"
          @input="(v: string) => (draft.range = v)"
          @change="keep()"
        />
      </FieldRow>
      <datalist id="range-names"><option v-for="name in rangeNames" :key="name" :value="name"></option></datalist>
    </div>
    <div class="pair">
      <FieldRow label="Formula">
        <ElSelect
          :model-value="draft.formula"
          :options="choices(formulaWords, formulaSaid)"
          aria-label="Formula"
          @update:model-value="(v: Formula) => put({ formula: v })"
        />
      </FieldRow>
      <button type="button" class="beside" @click="testing = true">Home test, 2 minutes</button>
    </div>
    <div class="pair">
      <FieldRow label="On the shelf">
        <ElSelect
          :model-value="draft.standing"
          :options="choices(standingWords, standingSaid)"
          aria-label="On the shelf"
          @update:model-value="(v) => put({ standing: v })"
        />
      </FieldRow>
      <FieldRow label="Place in its set">
        <ElSelect
          :model-value="draft.place ?? undefined"
          clearable
          placeholder="none"
          :options="choices(placeWords, placeSaid)"
          aria-label="Place in its set"
          @update:model-value="(v) => put({ place: v ?? null })"
        />
      </FieldRow>
    </div>

    <h3>Pad</h3>
    <div class="pair">
      <FieldRow label="Kind">
        <ElSelect
          :model-value="draft.pad_kind ?? undefined"
          clearable
          placeholder="not known"
          :options="choices(padKindWords, padKindSaid)"
          aria-label="Kind of pad"
          @update:model-value="(v) => put({ pad_kind: v ?? null })"
        />
      </FieldRow>
      <FieldRow label="Last re-inked">
        <input
          class="date"
          type="date"
          :value="draft.re_inked ?? ''"
          @change="(e) => put({ re_inked: (e.target as HTMLInputElement).value || null })"
        />
      </FieldRow>
      <FieldRow
        label="Condition"
        :hint="ink?.pad && !draft.pad ? `by its date: ${padStateSaid[ink.pad]}, load ${loadSaid[ink.load]}` : ''"
      >
        <ElSelect
          :model-value="draft.pad ?? undefined"
          clearable
          placeholder="by its date"
          :options="choices(padStateWords, padStateSaid)"
          aria-label="Condition of the pad"
          @update:model-value="(v) => put({ pad: v ?? null })"
        />
      </FieldRow>
      <div class="ticks">
        <ElCheckbox :model-value="draft.refill" @update:model-value="(v) => put({ refill: Boolean(v) })"
          >Refill at hand</ElCheckbox
        >
        <ElCheckbox :model-value="draft.discontinued" @update:model-value="(v) => put({ discontinued: Boolean(v) })"
          >No longer sold</ElCheckbox
        >
      </div>
    </div>

    <h3>How the swatch was made</h3>
    <div v-if="ink && swatch.known === 'lid'" class="lids">
      <p>What do the lids of {{ ink.range || 'this ink' }} show?</p>
      <ElSegmented
        :model-value="lidShows"
        :options="[
          { value: 'blend', label: 'the colour of a blend' },
          { value: 'print', label: 'a print of the pad' },
        ]"
        size="large"
        aria-label="What the lids show"
        @update:model-value="(v) => setLids(String(v))"
      />
      <p class="soft">Try one: brush it on smooth white card and hold the lid beside it. A print is darker.</p>
    </div>
    <div class="pair">
      <FieldRow label="With">
        <ElSelect
          :model-value="made.tool"
          :options="choices(toolWords, toolSaid)"
          aria-label="Tool of the swatch"
          @update:model-value="(tool) => setMade({ tool })"
        />
      </FieldRow>
      <FieldRow label="Load">
        <ElSelect
          :model-value="made.load"
          :options="choices(loadWords, loadSaid)"
          aria-label="Load of the swatch"
          @update:model-value="(load) => setMade({ load })"
        />
      </FieldRow>
      <FieldRow label="Passes">
        <NumberBox
          :model-value="made.passes"
          :min="1"
          :max="200"
          aria-label="Passes of the swatch"
          @update:model-value="(passes: number) => setMade({ passes })"
        />
      </FieldRow>
      <FieldRow label="On">
        <ElSelect
          :model-value="onCard"
          :options="onCards"
          aria-label="Card of the swatch"
          @update:model-value="setOnCard"
        />
      </FieldRow>
    </div>

    <div class="pair">
      <FieldRow label="Also on dark card" hint="the same, on a dark card: how it covers">
        <ElSelect
          :model-value="onDarkCard"
          :options="darkCards"
          aria-label="Dark card of the second swatch"
          @update:model-value="(id: number) => setDark(id, darkText)"
        />
      </FieldRow>
      <FieldRow v-if="onDarkCard" label="Its colour there, hex or Lab">
        <TypedInput :value="darkText" @typed="(text: string) => setDark(onDarkCard, text)" />
      </FieldRow>
    </div>
    <div v-if="ink" class="swatches" role="group" aria-label="Other swatches">
      <span v-for="(other, i) in draft.other_swatches" :key="i" class="other">
        <button
          type="button"
          :title="`Use this swatch (${toolSaid[other.made_with?.tool ?? 'pad']})`"
          :aria-label="`Use swatch ${i + 2}`"
          @click="useSwatch(i)"
        >
          <span :style="{ backgroundColor: ink.others[i] }"></span>{{ toolSaid[other.made_with?.tool ?? 'pad'] }}
        </button>
        <button type="button" class="drop" :aria-label="`Drop swatch ${i + 2}`" @click="dropSwatch(i)">×</button>
      </span>
      <button type="button" class="plain" @click="keepSwatch">Keep this swatch, add another</button>
    </div>

    <details>
      <summary>What the craft table says of it</summary>
      <OverridesEditor
        :formula="draft.formula"
        :hiding="draft.ink.hiding ?? null"
        :constants="draft.ink.constants"
        :range="draft.range"
        :range-row="ownRange"
        @hiding="(hiding) => putInk({ hiding })"
        @constants="(constants) => putInk({ constants })"
      />
    </details>
    <FieldRow label="Notes"
      ><ElInput
        :model-value="draft.notes"
        type="textarea"
        :rows="2"
        maxlength="4000"
        @input="(v: string) => (draft.notes = v)"
        @change="keep()"
    /></FieldRow>

    <footer v-if="ink" class="acts">
      <ElButton type="primary" @click="lay(0)">Lay first</ElButton>
      <ElButton @click="lay(1)">Lay second</ElButton>
      <ElButton title="For the day the pad runs out" @click="fromOthers">From others</ElButton>
      <ElButton @click="copy">Copy</ElButton>
      <ElButton @click="away">Delete</ElButton>
    </footer>
    <footer v-else>
      <ElButton type="primary" size="large" :disabled="!draft.name.trim() || !hasColour" @click="add"
        >Put it on the shelf</ElButton
      >
      <p v-if="!draft.name.trim() || !hasColour" class="wants">It wants a name and a colour.</p>
    </footer>
    <HomeTest v-if="testing" :name="draft.name || 'this ink'" @close="testing = false" @take="tested" />
  </section>
</template>

<style scoped src="./editor.css"></style>
<style scoped>
.lids {
  display: grid;
  gap: 6px;
  margin-bottom: 8px;
}
.lids p {
  margin: 0;
}
footer {
  position: sticky;
  z-index: 2;
  bottom: -10px;
  flex-wrap: wrap;
  padding: 8px 0;
  background: var(--slip);
}
footer :deep(.el-button) {
  margin: 0;
  padding-inline: 10px;
}
.acts {
  display: grid;
  grid-template-columns: repeat(6, minmax(0, 1fr));
}
.acts :deep(.el-button) {
  grid-column: span 2;
}
.acts :deep(.el-button:nth-child(n + 4)) {
  grid-column: span 3;
}
h2 small {
  font: 400 17px/1 var(--body);
}
h3 {
  margin: 4px 0 -4px;
  font-size: 16px;
}
.beside {
  align-self: end;
  min-height: 40px;
  padding: 0 10px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--raised);
  font-size: 16px;
  cursor: pointer;
}
.swatches {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.other {
  display: flex;
}
.other button {
  display: flex;
  align-items: center;
  gap: 6px;
  min-height: 40px;
  padding: 0 8px 0 4px;
  border: 1px solid var(--line);
  border-radius: 4px 0 0 4px;
  background: none;
  font-size: 15px;
  cursor: pointer;
}
.other span {
  width: 34px;
  height: 28px;
}
.other .drop {
  padding: 0 9px;
  border-left: 0;
  border-radius: 0 4px 4px 0;
}
.ticks {
  display: grid;
}
.ticks :deep(.el-checkbox) {
  height: 30px;
  font-size: 16px;
}
.wants {
  margin: 0;
  font-size: 15px;
}
</style>

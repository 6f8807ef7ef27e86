<script setup lang="ts">
/** A whole drawer of pads in one go: a list of names, then their colours one after another or off a photo, then what is doubtful. */
import { ElButton, ElInput, ElSelect } from 'element-plus'
import { useLocalStorage } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, shallowRef } from 'vue'

import {
  api,
  need,
  type Asked,
  type Change,
  type GivenColour,
  type InkItem,
  type Listed,
  type Reading,
} from '@/shared/api'
import SheetDialog from '@/shared/SheetDialog.vue'
import { choices } from '@/shared/choices'
import { useNewest } from '@/shared/newest'
import { type Doubt, type Formula, formulaSaid, formulaWords, type Known } from '../../generated/words'
import { blankInkItem } from '../../generated/blanks'
import EyeFinder from './EyeFinder.vue'
import FieldRow from './FieldRow.vue'
import PhotoReader from './PhotoReader.vue'
import { useStash } from './useStash'

interface Given {
  colour: GivenColour
  spread: number | null
  known: Known
  hex: string
}

const emit = defineEmits<{ close: []; made: [] }>()
const { attempt, change } = useStash()

// What has been entered outlives a reload and an evening.
const draft = useLocalStorage<{
  text: string
  range: string
  formula: Formula
  colours: Record<string, Given>
  formulas: Record<string, Formula>
}>('wempa-many-inks', { text: '', range: '', formula: 'unknown', colours: {}, formulas: {} })
const step = ref<'names' | 'colours' | 'ask'>('names')
const listed = shallowRef<Listed[]>([])
const at = ref(0)
const photo = ref(false)
const asked = shallowRef<Asked[]>([])
const out = ref<ReadonlySet<string>>(new Set())
const list = ref<HTMLElement | null>(null)

const keyOf = (ink: Listed): string => `${ink.range}\n${ink.name}`.toLowerCase()
/** Inks by what they are called; a second of one name is known by its line. */
const keys = computed(() => {
  const seen = new Set<string>()
  return listed.value.map((ink) => {
    const key = seen.has(keyOf(ink)) ? `${keyOf(ink)}\n${ink.line}` : keyOf(ink)
    seen.add(key)
    return key
  })
})
const given = (i: number): Given | undefined => draft.value.colours[keys.value[i] ?? '']
const formulaOf = (i: number): Formula =>
  draft.value.formulas[keys.value[i] ?? ''] ?? listed.value[i]?.formula ?? 'unknown'
const coloured = computed(() =>
  listed.value.flatMap((ink, i) => {
    const what = given(i)
    return what ? [{ ink, key: keys.value[i] ?? '', formula: formulaOf(i), ...what }] : []
  }),
)
const bare = computed(() => listed.value.flatMap((_, i) => (given(i) ? [] : [i])))
const ready = computed(() => coloured.value.filter((each) => !out.value.has(each.key)))
const now = computed(() => listed.value[at.value] ?? null)
const start = computed(() => given(at.value)?.colour.lab ?? null)
const ranges = computed(() => new Set(listed.value.map((ink) => ink.range)).size)
const choosable: Doubt[] = ['twice', 'owned', 'alike', 'colour']

onMounted(async () => {
  if (draft.value.text) await readNames()
})

const fetchNames = useNewest(
  () => {
    const { text, range, formula } = draft.value
    return need(api.POST('/api/stash/names', { body: { text, range, formula } }))
  },
  (found) => {
    listed.value = found
    found.forEach((ink, i) => {
      const key = keys.value[i] ?? ''
      if (ink.colour && !draft.value.colours[key])
        give(i, { colour: { hex: ink.colour.hex }, spread: null, known: 'typed', hex: ink.colour.hex })
    })
  },
)
const readNames = (): Promise<boolean> => attempt(fetchNames)
async function goToColours(): Promise<void> {
  if (!(await readNames()) || !listed.value.length) return
  at.value = bare.value[0] ?? 0
  step.value = 'colours'
}
function give(i: number, what: Given): void {
  draft.value.colours = { ...draft.value.colours, [keys.value[i] ?? '']: what }
}
function turnTo(i: number): void {
  at.value = i
  void nextTick(() => list.value?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest' }))
}
/** The next that has no colour yet, after this one; the first where there is none after it. */
function next(): void {
  const to = bare.value.find((i) => i > at.value) ?? bare.value[0]
  if (to !== undefined) turnTo(to)
}
function found(colour: GivenColour, spread: number, hex: string): void {
  give(at.value, { colour, spread, known: 'eye', hex })
  next()
}
function offPhoto(readings: { name: string; reading: Reading }[]): void {
  photo.value = false
  for (const { name, reading } of readings) {
    const i = bare.value.find((each) => listed.value[each]?.name === name)
    if (i !== undefined)
      give(i, { colour: reading.colour as GivenColour, spread: reading.spread, known: 'photo', hex: reading.hex })
  }
  next()
}

async function ask(): Promise<void> {
  await attempt(async () => {
    const inks = coloured.value.map(({ ink, formula, colour, spread }) => ({
      name: ink.name,
      range: ink.range,
      formula,
      colour,
      spread: spread ?? 0,
    }))
    asked.value = await need(api.POST('/api/stash/doubts', { body: { inks } }))
    // What stands twice is one ink, unless somebody says otherwise.
    out.value = new Set(
      asked.value.filter((each) => each.doubt === 'twice' || each.doubt === 'owned').map((each) => keyAt(each)),
    )
    step.value = 'ask'
  })
}
const keyAt = (each: Asked): string => coloured.value[each.at]?.key ?? ''
function keep(each: Asked, kept: boolean): void {
  const changed = new Set(out.value)
  if (kept) changed.delete(keyAt(each))
  else changed.add(keyAt(each))
  out.value = changed
}
function setFormula(each: Asked, formula: Formula): void {
  draft.value.formulas = { ...draft.value.formulas, [keyAt(each)]: formula }
}

/** The list of those without a colour, as it will stand in the field for another time. */
const written = async (): Promise<string> => {
  const left = bare.value.flatMap((i) => {
    const ink = listed.value[i]
    return ink ? [{ name: ink.name, range: ink.range, formula: formulaOf(i) }] : []
  })
  return (await need(api.POST('/api/stash/names/written', { body: { inks: left } }))).text
}

async function put(): Promise<void> {
  const made: Change[] = ready.value.map(({ ink, formula, colour, known, spread }) => {
    const blank = blankInkItem()
    const item: InkItem = {
      ...blank,
      name: ink.name,
      range: ink.range,
      formula,
      ink: { ...blank.ink, formula, swatch: { ...blank.ink.swatch, colour, known, spread } },
    }
    return { kind: 'ink', item: item as unknown as Record<string, unknown> }
  })
  let text = ''
  if (!(await attempt(async () => void (text = await written())))) return
  if (!(await change(`Add ${made.length} inks`, made))) return
  draft.value = { ...draft.value, text, range: '', colours: {}, formulas: {} }
  // It is written before the sheet goes, and what watches it with it.
  await nextTick()
  emit('made')
}
</script>

<template>
  <SheetDialog title="Put in many inks" :fit="step === 'ask'" @close="emit('close')">
    <div v-if="step === 'names'" class="names">
      <div class="written">
        <FieldRow plain label="Names, one on each line">
          <ElInput
            v-model="draft.text"
            type="textarea"
            :rows="23"
            maxlength="100000"
            aria-label="Names, one on each line"
            @change="readNames"
          />
        </FieldRow>
      </div>
      <div class="beside">
        <p>Type or paste what stands on your lids. Colours come after.</p>
        <FieldRow plain label="Range, for all that say none"
          ><ElInput v-model="draft.range" maxlength="120" aria-label="Range" @change="readNames"
        /></FieldRow>
        <FieldRow plain label="Made of">
          <ElSelect
            v-model="draft.formula"
            :options="choices(formulaWords, formulaSaid)"
            :teleported="false"
            aria-label="Formula"
            @change="readNames"
          />
        </FieldRow>
        <p class="soft">
          Several ranges? Put each under a heading that ends in a colon, its formula in brackets. A colour code behind a
          name is read as well.
        </p>
        <pre class="soft" aria-label="An example">
Ballast (hybrid):
Sea Wall
Brick Arch #8f4a34
Footplate (dye):
Boiler Blue</pre>
        <p role="status" class="counted">
          <b v-if="listed.length"
            >{{ listed.length }} {{ listed.length === 1 ? 'ink' : 'inks'
            }}{{ ranges > 1 ? ` of ${ranges} ranges` : '' }}.</b
          >
        </p>
        <ElButton type="primary" size="large" :disabled="!draft.text.trim()" @click="goToColours"
          >Go on to their colours</ElButton
        >
      </div>
    </div>

    <div v-else-if="step === 'colours'" class="colours">
      <ol ref="list" class="list" aria-label="Inks of the list">
        <li v-for="(ink, i) in listed" :key="keys[i]">
          <button type="button" :aria-current="i === at ? 'true' : undefined" @click="turnTo(i)">
            <span
              class="dab"
              :class="{ none: !given(i) }"
              :style="{ backgroundColor: given(i)?.hex ?? 'transparent' }"
            ></span>
            <b>{{ ink.name }}</b><small>{{ given(i) ? '' : 'no colour yet' }}</small>
          </button>
        </li>
      </ol>
      <div class="finder">
        <div class="top">
          <h3>{{ now?.name }}</h3>
          <span v-if="now" class="soft">{{ [now.range, formulaSaid[formulaOf(at)]].filter(Boolean).join(', ') }}</span>
        </div>
        <EyeFinder :key="keys[at]" :start="start" @found="found" />
      </div>
      <div class="beside">
        <p role="status">
          <b>{{ coloured.length }} of {{ listed.length }}</b> have a colour.
        </p>
        <p class="soft">
          By keyboard: arrows and Enter choose a family and a colour; then the arrows nudge it, Enter takes it and goes
          on.
        </p>
        <ElButton size="large" :disabled="!bare.length" @click="photo = true">Colours off one photo</ElButton>
        <ElButton size="large" :disabled="!bare.length" @click="next">Leave this one for later</ElButton>
        <ElButton size="large" @click="step = 'names'">Back to the names</ElButton>
        <ElButton size="large" type="primary" :disabled="!coloured.length" @click="ask">Look them over</ElButton>
      </div>
    </div>

    <div v-else class="ask">
      <p v-if="!asked.length"><b>Nothing is doubtful.</b></p>
      <p v-else>
        A word about {{ asked.length === 1 ? 'one of them' : 'some of them' }}; leave it as it is where you are not
        sure.
      </p>
      <ul class="doubts">
        <li v-for="(each, i) in asked" :key="i">
          <span class="dab" :style="{ backgroundColor: coloured[each.at]?.hex ?? 'transparent' }"></span>
          <span>{{ each.text }}</span>
          <ElSelect
            v-if="each.doubt === 'formula'"
            :model-value="coloured[each.at]?.formula"
            :options="choices(formulaWords, formulaSaid)"
            :teleported="false"
            :aria-label="`What it is made of: ${each.text}`"
            @update:model-value="(formula: Formula) => setFormula(each, formula)"
          />
          <span v-else-if="choosable.includes(each.doubt)" class="either" role="group" :aria-label="each.text">
            <button type="button" class="word framed" :aria-pressed="!out.has(keyAt(each))" @click="keep(each, true)">
              Keep it
            </button>
            <button type="button" class="word framed" :aria-pressed="out.has(keyAt(each))" @click="keep(each, false)">
              Leave it out
            </button>
          </span>
        </li>
      </ul>
      <p v-if="bare.length" class="soft">{{ bare.length }} without a colour stay in this list for another time.</p>
      <div class="ends">
        <ElButton size="large" @click="step = 'colours'">Back to the colours</ElButton>
        <ElButton size="large" type="primary" :disabled="!ready.length" @click="put"
          >Put {{ ready.length }} {{ ready.length === 1 ? 'ink' : 'inks' }} on the shelf</ElButton
        >
      </div>
    </div>
    <PhotoReader v-if="photo" :names="bare.map((i) => listed[i]?.name ?? '')" @close="photo = false" @read="offPhoto" />
  </SheetDialog>
</template>

<style scoped>
/* It comes as the field is left: the button below must not go away from under a finger that is on it. */
.counted {
  min-height: 1.5em;
}
.names,
.colours {
  display: grid;
  gap: 20px;
  height: 100%;
}
.names {
  grid-template-columns: minmax(0, 1fr) 380px;
}
.colours {
  grid-template-columns: 250px minmax(0, 1fr) 220px;
}
.beside {
  display: grid;
  align-content: start;
  gap: 10px;
}
.beside :deep(.el-button),
.ends :deep(.el-button) {
  margin: 0;
}
p,
pre,
h3 {
  margin: 0;
}
pre {
  padding-left: 12px;
  border-left: 3px solid var(--line-soft);
  font: 400 16px/1.35 var(--body);
}
.soft,
small {
  font-size: 15px;
  color: var(--text-soft);
}
.list,
.doubts {
  margin: 0;
  padding: 0;
  list-style: none;
}
.list {
  min-height: 0;
  overflow-y: auto;
}
.list button {
  display: grid;
  grid-template-columns: 40px minmax(0, 1fr) auto;
  align-items: center;
  gap: 8px;
  width: 100%;
  min-height: 40px;
  padding: 2px 6px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  text-align: left;
  cursor: pointer;
}
.list button:hover {
  border-color: var(--line);
}
.list button[aria-current] {
  border-color: var(--text);
  background: var(--raised);
}
.list b {
  font: 550 17px/1.2 var(--colour-names);
}
.dab {
  width: 40px;
  height: 26px;
}
.dab.none {
  border: 2px dashed var(--line);
}
.top {
  display: flex;
  align-items: baseline;
  gap: 10px;
  margin-bottom: 10px;
}
h3 {
  font: 600 26px/1.2 var(--colour-names);
}
.finder {
  min-height: 0;
  padding: 3px;
  overflow-y: auto;
}
.ask {
  display: grid;
  gap: 12px;
}
.doubts li {
  display: grid;
  grid-template-columns: 40px minmax(0, 1fr) auto;
  align-items: center;
  gap: 10px;
  padding: 5px 0;
  border-bottom: 1px solid var(--line-soft);
}
.doubts :deep(.el-select) {
  width: 200px;
}
.either,
.ends {
  display: flex;
  gap: 6px;
}
.either button[aria-pressed='true'] {
  border-color: var(--text);
  background: var(--raised);
  font-weight: 700;
}
@media (max-width: 820px) {
  .names,
  .colours {
    grid-template-columns: minmax(0, 1fr);
    height: auto;
  }
  .list {
    max-height: 180px;
  }
}
</style>

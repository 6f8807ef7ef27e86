<script setup lang="ts">
/**
 * Colours off a photo: mark the white, mark the swatches, or a whole sheet at once.
 *
 * A click marks a spot, a drag an area; a printed sheet is recognised and marked by
 * itself. The service reads against the white and says how sure each colour is.
 */
import { ElButton, ElInput, ElSegmented, ElSelect } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'

import NumberBox from '@/shared/NumberBox.vue'
import {
  api,
  need,
  type Change,
  type InkItem,
  type Marked,
  type Photo,
  type ReadOut,
  type Reading,
  type StepArea,
} from '@/shared/api'
import { useStash } from './useStash'
import { type Formula, type Illuminant, illuminantSaid, illuminantWords } from '../../generated/words'
import { blankInkItem } from '../../generated/blanks'
import { choices } from '@/shared/choices'
import { useNewest } from '@/shared/newest'
import FieldRow from './FieldRow.vue'
import PhonePanel from './PhonePanel.vue'
import PhotoSource from './PhotoSource.vue'
import ReadingRow from './ReadingRow.vue'
import SheetDialog from '@/shared/SheetDialog.vue'

type Kind = 'white' | 'dark' | 'swatch'
type Box = [number, number, number, number]
type Point = [number, number]
interface Mark {
  id: number
  kind: Kind
  box: Box
  name: string
  formula: Formula
}

/** `names`: what the squares are called, in order; their colours are given back instead of put on the shelf. */
const {
  one = false,
  formula = 'unknown',
  names: wanted = [],
} = defineProps<{ one?: boolean; formula?: Formula; names?: string[] }>()
const emit = defineEmits<{
  close: []
  take: [reading: Reading]
  read: [readings: { name: string; reading: Reading }[]]
  made: []
}>()
const { cards, inks, nameOf, attempt, change } = useStash()

const photo = shallowRef<Photo | null>(null)
const marks = ref<Mark[]>([])
const corners = ref<Point[]>([])
const steps = shallowRef<StepArea[]>([])
const mode = ref<Kind | 'grid' | 'strip'>('white')
/** Whether a click sets a corner. */
const atCorners = computed(() => mode.value === 'grid' || mode.value === 'strip')
const modes = [
  { value: 'white', label: 'White' },
  { value: 'swatch', label: 'Swatch' },
  { value: 'dark', label: 'Black' },
  { value: 'grid', label: 'Whole sheet' },
  { value: 'strip', label: 'Grey strip' },
]
const lamp = ref<Illuminant | 'auto'>('auto')
const lampChoices = [{ value: 'auto', label: 'let the photo tell' }, ...choices(illuminantWords, illuminantSaid)]
const phone = ref('')
const whiteCard = ref(0)
const columns = ref(6)
const rows = ref(6)
const range = ref('')
const found = shallowRef<ReadOut | null>(null)
/** The marks that were read, in the order of the readings: a mark may go, or come, before the next answer. */
const readMarks = shallowRef<number[]>([])
const readingOf = (mark: Mark): Reading | undefined => found.value?.readings[readMarks.value.indexOf(mark.id)]
const busy = ref(false)
const apart = ref<string[]>([])
let next = 1

const swatches = computed(() => marks.value.filter((mark) => mark.kind === 'swatch'))
const whites = computed(() => marks.value.filter((mark) => mark.kind === 'white'))
const whiteChoices = computed(() => [
  { value: 0, label: 'smooth white card' },
  ...cards.value.map((card) => ({ value: card.id, label: card.name })),
])
/** Inks of the shelf by what they are called. */
const shelved = computed(() => new Map(inks.value.map((ink) => [nameOf(ink.id).toLowerCase(), ink.id])))
const inkOf = (mark: Mark): number | null => shelved.value.get(mark.name.trim().toLowerCase()) ?? null
const named = computed(() => swatches.value.filter((mark) => mark.name.trim() && inkOf(mark) === null))
const told = computed(() => [...(photo.value?.notes ?? []), ...(found.value?.notes ?? [])])
const doubles = computed(() =>
  (found.value?.alike ?? []).flatMap(([i = -1, j = -1]) => {
    const [a, b] = [i, j].map((n) => swatches.value.find((swatch) => swatch.id === readMarks.value[n]))
    return a?.name && b?.name && !apart.value.includes(`${a.id}-${b.id}`) ? [[a, b] as const] : []
  }),
)

const mark = (kind: Kind, box: Box, name = '', as: Formula = formula): void => {
  if (kind === 'dark') marks.value = marks.value.filter((each) => each.kind !== 'dark')
  marks.value.push({ id: next++, kind, box, name, formula: as })
}

async function start(work: () => Promise<Photo>): Promise<void> {
  busy.value = true
  await attempt(async () => {
    const got = await work()
    photo.value = got
    marks.value = []
    steps.value = []
    found.value = null
    lamp.value = 'auto'
    phone.value = got.phone
    mode.value = 'white'
    corners.value = (got.corners ?? []) as Point[]
    if (got.page) {
      mode.value = 'grid'
      await markSheet(got)
    }
  })
  busy.value = false
}

/** Mark all of a printed sheet, or of a grid between four corners. */
async function markSheet(on = photo.value): Promise<void> {
  if (!on || corners.value.length !== 4) return
  const strip = mode.value === 'strip'
  const whole = strip
    ? { strip }
    : on.page
      ? { page: on.page, large: on.large }
      : { columns: columns.value, rows: rows.value }
  const all: Marked = await need(
    api.POST('/api/photos/{photo}/mark', {
      params: { path: { photo: on.photo } },
      body: { strip: false, large: false, ...whole, corners: corners.value },
    }),
  )
  steps.value = all.steps
  if (strip) {
    marks.value = marks.value.filter((each) => each.kind === 'swatch')
    for (const box of all.whites) mark('white', box as Box)
    if (all.dark) mark('dark', all.dark as Box)
    await read(false)
    return
  }
  const kept = marks.value.filter((each) => each.kind === 'swatch')
  if (on.page) marks.value = []
  else marks.value = marks.value.filter((each) => each.kind !== 'swatch')
  for (const box of all.whites) mark('white', box as Box)
  if (all.dark) mark('dark', all.dark as Box)
  const names = wanted.length ? wanted : on.names
  all.swatches.forEach((box, i) => {
    if (!names.length || i < names.length)
      mark('swatch', box as Box, kept[i]?.name || names[i] || '', kept[i]?.formula ?? formula)
  })
  await read(!!on.page && (!names.length || !!wanted.length))
}

const read = useNewest(
  async (wholeSheet: boolean) => {
    const on = photo.value
    const asked = swatches.value.map((swatch) => swatch.id)
    if (!on || !whites.value.length || !asked.length) return { asked, answer: null }
    const body = { ...marked(), phone: phone.value.trim(), whole_sheet: wholeSheet ? { names: wanted } : null }
    const answer = await need(api.POST('/api/photos/{photo}/read', { params: { path: { photo: on.photo } }, body }))
    return { asked, answer }
  },
  ({ asked, answer }) => {
    found.value = answer
    // The service leaves out the squares of a sheet that nobody has inked, and so does the page.
    const inked = answer?.inked?.map(({ at, name }) => ({ id: asked[at] ?? 0, name }))
    readMarks.value = inked?.map(({ id }) => id) ?? asked
    if (!inked) return
    const names = new Map(inked.map(({ id, name }) => [id, name]))
    marks.value = marks.value
      .filter((mark) => mark.kind !== 'swatch' || names.has(mark.id))
      .map((mark) => ({ ...mark, name: names.get(mark.id) ?? mark.name }))
  },
)
/** What is marked, as the service reads it. */
const marked = () => ({
  swatches: swatches.value.map((each) => ({ box: each.box, formula: each.formula, ink: inkOf(each) })),
  whites: whites.value.map((each) => each.box),
  dark: marks.value.find((each) => each.kind === 'dark')?.box ?? null,
  white_card: whiteCard.value || null,
  lamp: lamp.value === 'auto' ? null : lamp.value,
  steps: steps.value,
})
const again = (): Promise<boolean> => attempt(() => read(false))

// Marking by hand: a click is a spot, a drag an area.
const view = ref<SVGSVGElement | null>(null)
const drawn = ref<Box | null>(null)
const dragged = ref<number | null>(null)

const wide = computed(() => photo.value?.width ?? 1)

function place(event: PointerEvent): Point {
  const box = (event.currentTarget as SVGSVGElement).getBoundingClientRect()
  const scale = wide.value / box.width
  return [(event.clientX - box.left) * scale, (event.clientY - box.top) * scale]
}

function down(event: PointerEvent): void {
  if (event.button !== 0) return
  const [x, y] = place(event)
  const near = corners.value.findIndex((corner) => Math.hypot(corner[0] - x, corner[1] - y) < wide.value * 0.02)
  if (atCorners.value) {
    if (near >= 0) dragged.value = near
    else if (corners.value.length < 4) corners.value.push([x, y])
  } else drawn.value = [x, y, x, y]
  view.value?.setPointerCapture(event.pointerId)
}

function move(event: PointerEvent): void {
  const [x, y] = place(event)
  if (dragged.value !== null) corners.value[dragged.value] = [x, y]
  else if (drawn.value) drawn.value = [drawn.value[0], drawn.value[1], x, y]
}

async function up(): Promise<void> {
  if (atCorners.value) {
    const moved = dragged.value !== null
    dragged.value = null
    if (moved || corners.value.length === 4) await attempt(() => markSheet())
    return
  }
  const box = drawn.value
  drawn.value = null
  if (!box) return
  let [left, top, right, bottom] = [
    Math.min(box[0], box[2]),
    Math.min(box[1], box[3]),
    Math.max(box[0], box[2]),
    Math.max(box[1], box[3]),
  ]
  if (right - left < 8 || bottom - top < 8) {
    const half = wide.value * 0.012
    ;[left, top, right, bottom] = [left - half, top - half, left + half, top + half]
  }
  const kind = mode.value as Kind
  if (kind === 'swatch' && one) marks.value = marks.value.filter((each) => each.kind !== 'swatch')
  mark(kind, [left, top, right, bottom])
  if (kind === 'white' && whites.value.length === 1 && !swatches.value.length) mode.value = 'swatch'
  await again()
}

/** How far an arrow key moves something; Shift moves it further. */
function arrow(event: KeyboardEvent): Point | undefined {
  const step = event.shiftKey ? 10 : 2
  const by: Record<string, Point> = {
    ArrowLeft: [-step, 0],
    ArrowRight: [step, 0],
    ArrowUp: [0, -step],
    ArrowDown: [0, step],
  }
  return by[event.key]
}

/** Arrow keys move a mark, Delete takes it away. */
async function nudge(event: KeyboardEvent, each: Mark): Promise<void> {
  const by = arrow(event)
  if (by) each.box = [each.box[0] + by[0], each.box[1] + by[1], each.box[2] + by[0], each.box[3] + by[1]]
  else if (event.key === 'Delete' || event.key === 'Backspace')
    marks.value = marks.value.filter((other) => other.id !== each.id)
  else return
  event.preventDefault()
  await again()
}

async function nudgeCorner(event: KeyboardEvent, i: number): Promise<void> {
  const by = arrow(event)
  const now = corners.value[i]
  if (!by || !now) return
  event.preventDefault()
  corners.value[i] = [now[0] + by[0], now[1] + by[1]]
  await attempt(() => markSheet())
}

/** A spot in the middle of the photo, for those who mark by key. */
async function markMiddle(): Promise<void> {
  if (atCorners.value || !photo.value) return
  const { width, height } = photo.value
  mark(mode.value as Kind, [width * 0.48, height * 0.48, width * 0.52, height * 0.52])
  await again()
}

function take(swatch: Mark): void {
  const reading = readingOf(swatch)
  if (reading) emit('take', reading)
}

function leaveOut(each: Mark): void {
  marks.value = marks.value.filter((other) => other.id !== each.id)
  void again()
}

function giveBack(): void {
  emit(
    'read',
    swatches.value.flatMap((swatch) => {
      const reading = readingOf(swatch)
      return swatch.name.trim() && reading ? [{ name: swatch.name.trim(), reading }] : []
    }),
  )
}

async function putAll(): Promise<void> {
  const made: Change[] = swatches.value.flatMap((each) => {
    const reading = readingOf(each)
    if (!each.name.trim() || inkOf(each) !== null || !reading) return []
    const blank = blankInkItem()
    const item: InkItem = {
      ...blank,
      name: each.name.trim(),
      range: range.value.trim(),
      formula: each.formula,
      ink: {
        ...blank.ink,
        formula: each.formula,
        swatch: {
          ...blank.ink.swatch,
          colour: reading.colour,
          card: cards.value.find((card) => card.id === whiteCard.value)?.item.card ?? blank.ink.swatch.card,
          known: 'photo',
          spread: reading.spread,
        },
      },
    }
    return [{ kind: 'ink', item: item as unknown as Record<string, unknown> }]
  })
  if (await change(`Add ${made.length} inks off a photo`, made)) emit('made')
}
</script>

<template>
  <SheetDialog :title="one ? 'Read the ink off a photo' : 'Read inks off a photo'" @close="emit('close')">
    <PhotoSource v-if="!photo" :busy="busy" @start="start" />

    <div v-else class="work">
      <div class="left">
        <div class="modes">
          <ElSegmented v-model="mode" :options="modes" aria-label="What a click marks" />
          <ElButton v-if="!atCorners" @click="markMiddle">Mark the middle</ElButton>
          <ElButton @click="photo = null">Another photo</ElButton>
        </div>
        <div class="photo" :style="{ aspectRatio: `${photo.width} / ${photo.height}` }">
          <img :src="`/api/photos/${photo.photo}`" alt="The photo" draggable="false" />
          <svg
            ref="view"
            :viewBox="`0 0 ${photo.width} ${photo.height}`"
            @pointerdown="down"
            @pointermove="move"
            @pointerup="up"
          >
            <g
              v-for="(each, i) in marks"
              :key="each.id"
              class="mark"
              :class="each.kind"
              tabindex="0"
              role="img"
              :aria-label="each.kind === 'swatch' ? `Swatch ${swatches.indexOf(each) + 1} ${each.name}` : each.kind"
              @keydown="(event) => nudge(event, each)"
            >
              <rect
                :x="each.box[0]"
                :y="each.box[1]"
                :width="each.box[2] - each.box[0]"
                :height="each.box[3] - each.box[1]"
              />
              <text
                v-if="each.kind === 'swatch'"
                :x="(each.box[0] + each.box[2]) / 2"
                :y="(each.box[1] + each.box[3]) / 2"
                :font-size="photo.width / 34"
              >
                {{ swatches.indexOf(each) + 1 }}
              </text>
              <title>{{ i }}</title>
            </g>
            <rect
              v-for="(step, i) in steps"
              :key="`s${i}`"
              class="step"
              :x="step.box[0]"
              :y="step.box[1]"
              :width="step.box[2]! - step.box[0]!"
              :height="step.box[3]! - step.box[1]!"
            />
            <template v-if="atCorners">
              <circle
                v-for="(corner, i) in corners"
                :key="i"
                class="corner"
                tabindex="0"
                role="img"
                :aria-label="`Corner ${i + 1}`"
                :cx="corner[0]"
                :cy="corner[1]"
                :r="photo.width / 55"
                @keydown="(event) => nudgeCorner(event, i)"
              />
            </template>
            <rect
              v-if="drawn"
              class="drawn"
              :x="Math.min(drawn[0], drawn[2])"
              :y="Math.min(drawn[1], drawn[3])"
              :width="Math.abs(drawn[2] - drawn[0])"
              :height="Math.abs(drawn[3] - drawn[1])"
            />
          </svg>
        </div>
      </div>

      <div class="right">
        <p v-if="mode === 'white' && !whites.length" class="say">
          Click bare white card: what is white there is taken for white.
        </p>
        <p v-else-if="mode === 'grid' && !photo.page" class="say">
          Click the middle of the four corner swatches, clockwise from the top left; say how many there are.
        </p>
        <p v-else-if="mode === 'strip' && !steps.length" class="say">
          Click the middle of the strip's four black dots, clockwise from the top left.
        </p>
        <p v-else-if="!swatches.length" class="say">Now click each swatch, or drag over an even part of it.</p>
        <p v-else-if="photo.page" class="say">
          This is the printed sheet: its squares, its white and its black are marked.
        </p>
        <div v-if="mode === 'grid' && !photo.page" class="pair">
          <FieldRow label="Across"
            ><NumberBox
              v-model="columns"
              :min="1"
              :max="30"
              aria-label="Swatches across"
              @update:model-value="attempt(() => markSheet())"
          /></FieldRow>
          <FieldRow label="Down"
            ><NumberBox
              v-model="rows"
              :min="1"
              :max="30"
              aria-label="Swatches down"
              @update:model-value="attempt(() => markSheet())"
          /></FieldRow>
        </div>
        <div class="pair">
          <FieldRow plain label="Light of the photo">
            <ElSelect
              v-model="lamp"
              :options="lampChoices"
              :teleported="false"
              aria-label="Light of the photo"
              @change="again"
            />
            <small v-if="found && lamp === 'auto'" class="soft">read as {{ illuminantSaid[found.lamp] }}</small>
          </FieldRow>
          <FieldRow plain label="The white is">
            <ElSelect
              v-model="whiteCard"
              :options="whiteChoices"
              :teleported="false"
              aria-label="The white is"
              @change="again"
            />
          </FieldRow>
        </div>

        <p v-for="note in told" :key="note.code" class="note">{{ note.text }}</p>
        <PhonePanel v-if="found" v-model="phone" :photo="photo.photo" :found="found" :marked="marked" @change="again" />

        <div v-for="[a, b] in doubles" :key="`${a.id}-${b.id}`" class="double" role="alert">
          <p>{{ a.name }} and {{ b.name }} read the same. Can you tell these apart on the card?</p>
          <ElButton @click="apart.push(`${a.id}-${b.id}`)">Yes, two inks</ElButton>
          <ElButton @click="leaveOut(b)">No, leave {{ b.name }} out</ElButton>
        </div>

        <datalist id="shelved"><option v-for="ink in inks" :key="ink.id" :value="nameOf(ink.id)" /></datalist>
        <ol v-if="found" class="readings">
          <ReadingRow
            v-for="(each, i) in swatches"
            :key="each.id"
            v-model:name="each.name"
            v-model:formula="each.formula"
            :number="i + 1"
            :one="one"
            :reading="readingOf(each)"
            :shelved="inkOf(each) !== null"
            @change="again"
            @take="take(each)"
            @out="leaveOut(each)"
          />
        </ol>
        <details v-if="found" class="figures">
          <summary>The figures</summary>
          <span v-for="(each, i) in swatches" :key="each.id"
            >{{ each.name || `Swatch ${i + 1}` }} ±{{ readingOf(each)?.spread.toFixed(1) }} ΔE00.
          </span>
        </details>

        <div v-if="wanted.length && found" class="finish">
          <ElButton type="primary" size="large" :disabled="!swatches.length" @click="giveBack">
            Take {{ swatches.length }} {{ swatches.length === 1 ? 'colour' : 'colours' }}
          </ElButton>
        </div>
        <div v-else-if="!one && found" class="finish">
          <FieldRow label="Range, for all of them"
            ><ElInput v-model="range" maxlength="120" aria-label="Range"
          /></FieldRow>
          <ElButton type="primary" size="large" :disabled="!named.length" @click="putAll">
            Put {{ named.length }} {{ named.length === 1 ? 'ink' : 'inks' }} on the shelf
          </ElButton>
        </div>
      </div>
    </div>
  </SheetDialog>
</template>

<style scoped src="./PhotoReader.css"></style>

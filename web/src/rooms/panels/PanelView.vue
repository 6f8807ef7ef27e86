<script setup lang="ts">
/** A card front in bands: the front at its scale, the tape of bands to change it by, and what there is to know about it. */
import { onKeyStroke, useLocalStorage } from '@vueuse/core'
import { ElButton, ElDropdown, ElDropdownItem, ElDropdownMenu } from 'element-plus'
import { computed, defineAsyncComponent, onMounted, ref, shallowRef, watch } from 'vue'

import { useNewest } from '@/shared/newest'
import {
  type PanelItem,
  type PanelTop,
  type PanelWindow,
  type SeamFix,
  type StashInk,
  type Through,
} from '@/shared/api'
import BoardTabs from '@/shared/BoardTabs.vue'
import CardShelf from '@/shared/CardShelf.vue'
import InkRack from '@/shared/InkRack.vue'
import BandTape from './BandTape.vue'
import FrontCard from './FrontCard.vue'
import { LEAF, layoutOf } from './geometry'
import PickedSlip from './PickedSlip.vue'
import SeamBoard from './SeamBoard.vue'
import WindowBoard from './WindowBoard.vue'
import WorkBoard from './WorkBoard.vue'
import TypedInput from '@/shared/TypedInput.vue'
import { useOverlap } from '../overlap/useOverlap'
import { useMatch } from '../search/useMatch'
import { useLog } from '../log/useLog'
import { useTable } from '../table/useTable'
import { useStash } from '../stash/useStash'
import { usePanel } from './usePanel'
import { DEFAULT_MUD_LINE } from '../../generated/words'
import { saveFile } from '@/shared/files'
import { isCommand, nextOf } from '@/shared/keys'
import { at, router } from '@/shared/router'
import { length } from '@/shared/units'

const KeptBoard = defineAsyncComponent(() => import('./KeptBoard.vue'))
const ComparePanels = defineAsyncComponent(() => import('./ComparePanels.vue'))
const SizeBoard = defineAsyncComponent(() => import('./SizeBoard.vue'))
const LayerBoard = defineAsyncComponent(() => import('./LayerBoard.vue'))
const KeyList = defineAsyncComponent(() => import('@/shared/KeyList.vue'))

const room = usePanel()
const { panel, plan, painting, study, picked, wet, zoom, scale, unit, flat, card, loading, inkOf } = room
const { loading: stashLoading } = useOverlap()
const { cards, atHand, attempt, quietly } = useStash()
const { logIt } = useLog()
const { bring } = useTable()
const { asked: wanted } = useMatch()

const usual = [
  { value: 'seams', said: 'Seams' },
  { value: 'work', said: 'Making it' },
  { value: 'window', said: 'Window' },
] as const
// What is opened from the bar above stands beside the picture as well, so that it is seen what it changes.
const asked = { size: 'Size', layers: 'Layers', kept: 'Panels' } as const
type Board = (typeof usual)[number]['value'] | keyof typeof asked
const board = useLocalStorage<Board>('wempa-panel-board', 'seams')
const boards = computed<{ value: Board; said: string }[]>(() => {
  const now = board.value
  return now in asked ? [...usual, { value: now, said: asked[now as keyof typeof asked] }] : [...usual]
})
const turnTo = (to: Board): unknown => (board.value = board.value === to ? 'seams' : to)
const heldTop = ref<number | null>(null)
watch(board, (now) => now !== 'layers' && (heldTop.value = null))
const marks = useLocalStorage('wempa-panel-marks', true)
const sheet = ref<'compare' | 'keys' | null>(null)
const other = ref<number | null>(null)

const mudLine = computed(() => study.value?.mud_line ?? DEFAULT_MUD_LINE)
const chosen = computed(() => plan.value?.bands?.map((band) => band.ink_id) ?? [])
const whites = computed(() =>
  atHand.value.filter((ink) => ink.white).map((ink) => ({ value: ink.id, label: ink.name })),
)
const inkChoices = computed(() => atHand.value.map((ink) => ({ value: ink.id, label: ink.name })))
const cardChoices = computed(() => cards.value.map((each) => ({ value: each.id, label: each.name })))
const into = computed(() => {
  const now = picked.value
  if (now.kind !== 'band') return 'Press to add it as one more band'
  return `Press to use it in place of ${study.value?.bands[now.at]?.name ?? 'the picked band'}`
})
const counted = computed(() => {
  const now = study.value
  if (!now) return ''
  return `${now.inks === 1 ? '1 ink' : `${now.inks} inks`}, ${now.colours === 1 ? '1 colour' : `${now.colours} colours`}`
})
const evenness = computed(() => {
  const now = study.value
  if (!now?.widest || now.evenness === null || now.evenness === undefined) return ''
  return `${now.evenness_words} of colour; the widest is between ${now.widest.between}.`
})

onMounted(async () => {
  if (!stashLoading.value) return room.load()
  const stop = watch(stashLoading, (busy) => {
    if (!busy) {
      stop()
      void room.load()
    }
  })
})

const edit = (part: Partial<PanelItem>, what: string): void => void room.change((now) => ({ ...now, ...part }), what)

// -- boundaries: painted while they move, stored when they are let go
const dragTo = (seam: number, at: number): void => void room.dragBoundary(seam, at)
const dropped = (): void => void room.dropDragged('Move a boundary')
const nudge = (seam: number, by: number): void => void room.nudgeBoundary(seam, by)
function centre(x: number, y: number): void {
  const body = plan.value
  if (!body) return
  // The middle and the corners hold on a little.
  const snap = (share: number): number =>
    [0, 0.5, 1].find((at) => Math.abs(share - at) < 0.035) ?? Math.min(1, Math.max(0, Math.round(share * 1000) / 1000))
  room.hold({ ...body, centre: [snap(x), snap(y)] })
}
const moveCentre = (): void => void room.dropDragged('Move the centre')

// -- a layer on top, held on the front: dragged, sized, turned; stored when it is let go
function holdTop(part: Partial<PanelTop>): void {
  const body = plan.value
  const at = heldTop.value
  if (body && at !== null)
    room.hold({ ...body, tops: body.tops?.map((top, k) => (k === at ? { ...top, ...part } : top)) })
}
const dropTop = (): void => void room.dropDragged('Move what is on top')
watch(
  () => plan.value?.tops?.length ?? 0,
  (count) => heldTop.value !== null && heldTop.value >= count && (heldTop.value = null),
)

// -- the window that shows what a cut leaves
const shape = ref<PanelWindow>({ kind: 'heart', x: 50, y: 60, width: 50, height: 50, path: LEAF })
const left = shallowRef<Through | null>(null)
const askThrough = useNewest(
  () => room.through(shape.value),
  (found) => board.value === 'window' && (left.value = found),
)
async function lookThrough(): Promise<void> {
  if (board.value === 'window') await quietly(askThrough)
}
watch([shape, () => panel.value?.revision, board], lookThrough)
watch(board, (now) => {
  if (now !== 'window') left.value = null
  else if (study.value)
    shape.value = { ...shape.value, x: (study.value.inked[0] ?? 0) / 2, y: (study.value.inked[1] ?? 0) / 2 }
})
const moveWindow = (part: Partial<PanelWindow>): void => {
  const [width = 1, height = 1] = study.value?.inked ?? []
  const next = { ...shape.value, ...part }
  shape.value = { ...next, x: Math.min(width, Math.max(0, next.x)), y: Math.min(height, Math.max(0, next.y)) }
}

function apply(fix: SeamFix): void {
  void room.change(() => fix.change as PanelItem, fix.text)
}
function closer(by: number): void {
  const times = Math.min(8, Math.max(1, by > 0 ? zoom.value.times * 2 : zoom.value.times / 2))
  zoom.value = { ...zoom.value, times }
}
const look = (x: number, y: number): void => {
  zoom.value = { ...zoom.value, x: Math.min(1, Math.max(0, x)), y: Math.min(1, Math.max(0, y)) }
}
function setScale(perMm: number): void {
  if (Math.abs(perMm - scale.value) / scale.value > 0.01) scale.value = perMm
}
function takeOut(): void {
  if (picked.value.kind === 'band') void room.takeOut(picked.value.at)
}
function passes(by: number): void {
  const now = picked.value
  const seen = now.kind === 'band' ? study.value?.bands[now.at] : undefined
  if (now.kind === 'band' && seen)
    void room.changeBand(now.at, { passes: Math.max(1, seen.passes + by) }, 'Change the passes')
}
/** Look for the picked colour among the inks at hand. */
function match(): void {
  const now = picked.value
  const seen = study.value
  if (now.kind === 'front' || !seen || !panel.value) return
  const names =
    now.kind === 'band' ? [seen.bands[now.at]?.name] : seen.seams[now.at]?.pair.map((k) => seen.bands[k]?.name)
  const target = { panel_id: panel.value.id, ...(now.kind === 'band' ? { band: now.at } : { seam: now.at }) }
  wanted.value = {
    ...wanted.value,
    target,
    name: `${names?.join(' into ')} in ${panel.value.name}`,
    card: plan.value?.card_id ?? null,
    start: null,
  }
  void router.push(at('match'))
}
function walk(by: number): void {
  const count = study.value?.bands.length ?? 0
  if (count)
    picked.value = {
      kind: 'band',
      at: ((picked.value.kind === 'front' ? (by > 0 ? -1 : 0) : picked.value.at) + by + count) % count,
    }
}
function applyFirst(): void {
  const first = picked.value.kind === 'seam' ? room.fixesOf(picked.value.at)?.[0] : undefined
  if (first) apply(first)
}
const choose = (ink: StashInk, more: boolean): void => void room.layInk(ink, more)

const keyWords = [
  ['← →', 'Pick another band; on a boundary, move it, with Shift by 5 mm'],
  ['Alt ← →', 'Let the picked band change places'],
  ['+ −', 'One pass more or less'],
  ['Delete', 'Take the picked band out'],
  ['Enter on an ink', 'Lay it instead of the picked band; with Shift, as one more'],
  ['E', 'Even out the bands'],
  ['F', 'First fix of the picked seam, applied'],
  ['W', 'Wet look, dry look'],
  ['Z, Shift Z', 'Zoom in, zoom out'],
  ['M', 'Marks beside the bands'],
  ['V', 'View seams, making it, window'],
  ['S', 'Size, frame and sheet'],
  ['L', 'Layers under and on top'],
  ['P', 'Panels, all of them'],
  ['G', 'Go to the table with it'],
  ['C', 'Compare with another'],
] as const
const toTable = (): void => {
  if (panel.value?.bands?.length) bring('panel', [panel.value.id])
}
const keys: Record<string, (event: KeyboardEvent) => unknown> = {
  '?': () => (sheet.value = 'keys'),
  '/': () => document.querySelector<HTMLElement>('.rack input')?.focus(),
  '+': () => passes(1),
  '=': () => passes(1),
  '-': () => passes(-1),
  ArrowLeft: () => walk(-1),
  ArrowRight: () => walk(1),
  Delete: takeOut,
  e: () => room.evenOut(),
  f: applyFirst,
  w: () => (wet.value = !wet.value),
  z: () => closer(1),
  Z: () => closer(-1),
  m: () => (marks.value = !marks.value),
  v: () =>
    (board.value = nextOf(usual, board.value in asked ? 'window' : (board.value as (typeof usual)[number]['value']))),
  s: () => turnTo('size'),
  l: () => turnTo('layers'),
  p: () => turnTo('kept'),
  c: () => compare(null),
  g: toTable,
  Escape: () => (picked.value = { kind: 'front' }),
}
onKeyStroke(Object.keys(keys), (event) => {
  if (!isCommand(event) || !plan.value) return
  const role =
    event.target instanceof HTMLElement
      ? event.target.closest('[role=radio], [role=tab], [role=slider], .pad, .shelf, .band')
      : null
  if (event.key.startsWith('Arrow') && role) return
  event.preventDefault()
  keys[event.key]?.(event)
})
onKeyStroke(['ArrowLeft', 'ArrowRight'], (event) => {
  if (!event.altKey || picked.value.kind !== 'band') return
  event.preventDefault()
  void room.moveBand(picked.value.at, event.key === 'ArrowLeft' ? -1 : 1)
})

function compare(id: number | null): void {
  other.value = id
  sheet.value = 'compare'
}
watch(picked, (now) => now.kind === 'seam' && board.value === 'work' && (board.value = 'seams'))

const files = computed(() => {
  const base = `/api/panels/${panel.value?.id}`
  return [
    { href: `${base}/plan.pdf`, said: 'Plan for the table (PDF, A4)' },
    { href: `${base}/ruler.pdf`, said: 'Ruler strips, real size (PDF)' },
    { href: `${base}/export.pdf`, said: 'The front, real size (PDF)' },
    { href: `${base}/export.svg`, said: 'The front (SVG)' },
    { href: `${base}/export.png?wet=${wet.value}`, said: `Picture${wet.value ? ', wet' : ''} (PNG, 300 dpi)` },
    { href: `${base}/export.json`, said: 'The plan with its inks (JSON)' },
  ]
})
const handOver = (href: string): unknown => attempt(() => saveFile(href))
</script>

<template>
  <main v-if="plan && painting && study" class="work">
    <InkRack :inks="atHand" :chosen="chosen" :into="into" class="inks" @choose="choose" />

    <div class="table">
      <div class="bar">
        <TypedInput
          :value="plan.name"
          class="name"
          aria-label="Name of this panel"
          @typed="(name) => name.trim() && edit({ name: name.trim() }, 'Rename')"
        />
        <button
          type="button"
          class="word"
          title="All panels (P)"
          :aria-pressed="board === 'kept'"
          @click="turnTo('kept')"
        >
          Panels
        </button>
        <button
          type="button"
          class="word"
          title="Size, frame and sheet (S)"
          :aria-pressed="board === 'size'"
          @click="turnTo('size')"
        >
          {{ length(plan.width ?? 0, unit).replace(` ${unit}`, '') }} × {{ length(plan.height ?? 0, unit) }}
        </button>
        <button
          type="button"
          class="word"
          title="Under and on top of the bands (T)"
          :aria-pressed="board === 'layers'"
          @click="turnTo('layers')"
        >
          Layers{{
            plan.tops?.length || plan.white_id ? ` (${(plan.tops?.length ?? 0) + (plan.white_id ? 1 : 0)})` : ''
          }}
        </button>
        <ElDropdown trigger="click" @command="handOver">
          <button type="button" class="word">Export and print ▾</button>
          <template #dropdown>
            <ElDropdownMenu>
              <ElDropdownItem v-for="file in files" :key="file.href" :command="file.href">{{
                file.said
              }}</ElDropdownItem>
            </ElDropdownMenu>
          </template>
        </ElDropdown>
        <ElDropdown
          trigger="click"
          :disabled="!plan.bands?.length"
          @command="(to: string) => (to === 'log' ? panel && logIt({ panel_id: panel.id }) : toTable())"
        >
          <button
            type="button"
            class="word"
            :disabled="!plan.bands?.length"
            title="Its bands and seams into the swatch book, or to the table (G)"
          >
            Go on ▾
          </button>
          <template #dropdown>
            <ElDropdownMenu>
              <ElDropdownItem command="table">Make it at the table</ElDropdownItem>
              <ElDropdownItem command="log">Log it in the swatch book</ElDropdownItem>
            </ElDropdownMenu>
          </template>
        </ElDropdown>
        <button type="button" class="word" title="Keys (?)" aria-label="Keys" @click="sheet = 'keys'">?</button>
      </div>
      <FrontCard
        class="front"
        :plan="plan"
        :painting="painting"
        :picked="picked"
        :unit="unit"
        :flat="flat"
        :marks="marks"
        :zoom="zoom"
        :through="left"
        :mud-line="mudLine"
        :held-top="heldTop"
        @top="(part) => holdTop(part)"
        @top-dropped="dropTop"
        @pick="(now) => (picked = now)"
        @drag="dragTo"
        @dropped="layoutOf(plan).centred ? moveCentre() : dropped()"
        @centre="centre"
        @window="(x, y) => moveWindow({ x, y })"
        @look="look"
        @scale="setScale"
      >
        <span class="corner" @pointerdown.stop>
          <button type="button" class="word" :aria-pressed="wet" title="Wet look, dry look (W)" @click="wet = !wet">
            {{ wet ? 'Wet look' : 'Dry look' }}
          </button>
          <span role="group" aria-label="How close one looks">
            <button
              type="button"
              class="word"
              :disabled="zoom.times === 1"
              aria-label="Farther"
              title="Farther (Shift Z)"
              @click="closer(-1)"
            >
              −
            </button>
            {{ zoom.times }}×
            <button
              type="button"
              class="word"
              :disabled="zoom.times === 8"
              aria-label="Closer"
              title="Closer (Z)"
              @click="closer(1)"
            >
              +
            </button>
          </span>
        </span>
      </FrontCard>
      <BandTape
        v-if="study.bands.length"
        :plan="plan"
        :study="study"
        :picked="picked"
        :unit="unit"
        @pick="(now) => (picked = now)"
        @drag="dragTo"
        @dropped="dropped"
        @nudge="nudge"
      />
      <p v-else class="first">No ink lies here yet: press one on the left.</p>
      <PickedSlip
        :plan="plan"
        :study="study"
        :picked="picked"
        :unit="unit"
        @band="(part, what) => picked.kind === 'band' && room.changeBand(picked.at, part, what)"
        @seam="(part, what) => picked.kind === 'seam' && room.changeSeam(picked.at, part, what)"
        @front="edit"
        @move="(by) => picked.kind === 'band' && room.moveBand(picked.at, by)"
        @out="takeOut"
        @back="picked.kind === 'band' && room.bringBack(picked.at)"
        @even="room.evenOut"
        @overlap="picked.kind === 'seam' && room.seamToOverlap(picked.at)"
        @match="match"
      />
    </div>

    <aside class="told">
      <div role="status">
        <p class="counted">
          <b>{{ counted }}</b> on {{ card?.name ?? 'white card' }}
        </p>
        <p v-if="evenness" class="even">{{ evenness }}</p>
      </div>
      <BoardTabs of="panel" :boards="boards" :at="board" label="Beside the panel" @turn="(to) => (board = to)" />
      <div id="panel-board" role="tabpanel" :aria-labelledby="`panel-tab-${board}`">
        <SeamBoard
          v-if="board === 'seams'"
          :plan="plan"
          :study="study"
          :picked="picked"
          :unit="unit"
          :mud-line="mudLine"
          :fixes-of="room.fixesOf"
          @pick="(now) => (picked = now)"
          @apply="apply"
          @wanted="(seam) => room.fetchFixes(seam)"
        />
        <WorkBoard
          v-else-if="board === 'work'"
          :plan="plan"
          :study="study"
          :unit="unit"
          @hand="(hand) => edit({ hand }, 'Change the hand')"
          @school="(school) => edit({ school }, 'Change the order')"
        />
        <SizeBoard v-else-if="board === 'size'" :plan="plan" :unit="unit" :cards="cardChoices" @change="edit" />
        <LayerBoard
          v-else-if="board === 'layers'"
          :tops="plan.tops ?? []"
          :unit="unit"
          :inks="inkChoices"
          :whites="whites"
          :white="plan.white_id ?? null"
          :held="heldTop"
          @change="(tops, what) => edit({ tops }, what)"
          @under="(white_id) => edit({ white_id }, 'White under it')"
          @hold="(at) => (heldTop = at)"
        />
        <KeptBoard v-else-if="board === 'kept'" @compare="compare" />
        <WindowBoard v-else :window="shape" :through="left" :unit="unit" @change="moveWindow" @away="board = 'seams'" />
      </div>
    </aside>
    <CardShelf
      :cards="cards"
      :chosen="card?.id ?? null"
      class="cards"
      @choose="(each) => edit({ card_id: each.id }, 'Change the card')"
    />

    <ComparePanels v-if="sheet === 'compare'" :first="other" @close="sheet === 'compare' && (sheet = null)" />
    <KeyList v-else-if="sheet === 'keys'" :own="keyWords" @close="sheet = null" />
  </main>

  <main v-else-if="!loading && !panel" class="empty">
    <h1>No panel yet</h1>
    <p v-if="inkOf.size">
      A panel is a card front in bands of ink: how wide each is, where they meet, in what order they are laid.
    </p>
    <template v-else>
      <p>A panel needs inks, and your shelf is empty.</p>
      <a class="own" href="#/stash">Put your own inks on the shelf</a>
    </template>
    <ElButton v-if="inkOf.size" size="large" type="primary" @click="room.begin">Begin with three of your inks</ElButton>
  </main>

  <main v-else class="empty" aria-busy="true"><p>One moment …</p></main>
</template>

<style scoped src="./PanelView.css"></style>

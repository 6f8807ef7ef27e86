<script setup lang="ts">
/**
 * The card front at the scale there is room for, with rulers: pressed to pick a band or a seam,
 * boundaries dragged where the bands lie side by side, a layer on top dragged, sized and turned, a window moved
 * over it, looked at closer.
 */
import { useElementSize } from '@vueuse/core'
import { computed, ref, watchEffect } from 'vue'

import type { PanelItem, PanelStudy, PanelTop, Through } from '@/shared/api'
import type { Painting, Picked } from './usePanel'
import { ordinal } from '@/shared/names'
import { inches, length, type Unit } from '@/shared/units'
import MudGlass from '@/shared/MudGlass.vue'
import { layoutOf, lineAt, markAt, zoneAt, type Spot } from './geometry'
import PanelPicture from './PanelPicture.vue'

const { plan, painting, picked, unit, flat, marks, zoom, through, mudLine, heldTop } = defineProps<{
  plan: PanelItem
  painting: Painting
  picked: Picked
  unit: Unit
  flat: boolean
  /** Whether numbers and verdicts stand beside the bands. */
  marks: boolean
  zoom: { times: number; x: number; y: number }
  /** What a window leaves, when one lies over the front. */
  through: Through | null
  mudLine: number
  /** The layer on top that is held. */
  heldTop: number | null
}>()
const emit = defineEmits<{
  pick: [picked: Picked]
  drag: [seam: number, at: number]
  dropped: []
  centre: [x: number, y: number]
  window: [x: number, y: number]
  top: [edit: Partial<PanelTop>]
  topDropped: []
  look: [x: number, y: number]
  scale: [perMm: number]
}>()

const frame = ref<HTMLElement | null>(null)
const { width: roomWide, height: roomHigh } = useElementSize(frame)
const study = computed<PanelStudy>(() => painting.study)
const mat = computed(() => (plan.frame === 'mat' ? (plan.frame_width ?? 0) : 0))
const border = computed(() => (plan.frame === 'border' ? (plan.frame_width ?? 0) : 0))
const bleed = computed(() => plan.bleed ?? 0)
/** Room around the card for rulers and marks, px. */
const around = computed(() => ({ left: 46, top: 28, right: 66, bottom: roomWide.value < 480 ? 52 : 10 }))
const outer = computed(() => ({ width: (plan.width ?? 1) + 2 * mat.value, height: (plan.height ?? 1) + 2 * mat.value }))
const px = computed(() =>
  Math.max(
    0.3,
    Math.min(
      (roomWide.value - around.value.left - around.value.right) / outer.value.width,
      (roomHigh.value - around.value.top - around.value.bottom) / outer.value.height,
    ),
  ),
)
watchEffect(() => roomWide.value && emit('scale', px.value * Math.min(2, window.devicePixelRatio || 1)))

const place = computed(() => ({
  left:
    around.value.left +
    Math.max(0, (roomWide.value - around.value.left - around.value.right - outer.value.width * px.value) / 2),
  top:
    around.value.top +
    Math.max(0, (roomHigh.value - around.value.top - around.value.bottom - outer.value.height * px.value) / 2),
}))
const box = (left: number, top: number, width: number, height: number) => ({
  left: `${place.value.left + left * px.value}px`,
  top: `${place.value.top + top * px.value}px`,
  width: `${width * px.value}px`,
  height: `${height * px.value}px`,
})
const inked = computed(() => {
  const [width = 1, height = 1] = study.value.inked
  return { left: mat.value + border.value, top: mat.value + border.value, width, height }
})
/** From mm on the inked area to px on the page, as it is looked at now. */
const onPage = (spot: Spot): Spot => {
  const [left, top, right] = painting.box
  const grown = inked.value.width / (right - left)
  return {
    x: place.value.left + (inked.value.left + (spot.x - left) * grown) * px.value,
    y: place.value.top + (inked.value.top + (spot.y - top) * grown) * px.value,
  }
}
function spotOf(event: PointerEvent): Spot {
  const bounds = frame.value?.getBoundingClientRect()
  const [left, top, right] = painting.box
  const grown = inked.value.width / (right - left)
  return {
    x: ((event.clientX - (bounds?.left ?? 0) - place.value.left) / px.value - inked.value.left) / grown + left,
    y: ((event.clientY - (bounds?.top ?? 0) - place.value.top) / px.value - inked.value.top) / grown + top,
  }
}

type Drag = { what: 'boundary'; seam: number } | { what: 'window' } | { what: 'look'; from: Spot } | { what: 'centre' }
const drag = ref<Drag | null>(null)
let pressed: Spot = { x: 0, y: 0 }

const middles = computed(() => study.value.seams.map((seam) => (seam.begin + seam.end) / 2))
function down(event: PointerEvent): void {
  if (event.button !== 0) return
  const spot = spotOf(event)
  pressed = { x: event.clientX, y: event.clientY }
  const at = lineAt(plan, study.value, spot)
  const near =
    flat && !layoutOf(plan).overlaid && zoom.times === 1
      ? middles.value.findIndex((middle) => Math.abs(middle - at) * px.value < 7)
      : -1
  const [cx = 0.5, cy = 0.5] = plan.centre ?? []
  const fromCentre = Math.hypot(spot.x - cx * inked.value.width, spot.y - cy * inked.value.height) * px.value
  if (through) drag.value = { what: 'window' }
  else if (near >= 0) drag.value = { what: 'boundary', seam: near }
  else if (layoutOf(plan).centred && fromCentre < 14) drag.value = { what: 'centre' }
  else drag.value = { what: 'look', from: { x: zoom.x, y: zoom.y } }
  frame.value?.setPointerCapture(event.pointerId)
  if (drag.value.what === 'window') emit('window', spot.x, spot.y)
}
const isDrag = (event: PointerEvent): boolean => Math.hypot(event.clientX - pressed.x, event.clientY - pressed.y) > 3
function move(event: PointerEvent): void {
  const now = drag.value
  if (!now || !isDrag(event)) return
  const spot = spotOf(event)
  if (now.what === 'boundary') emit('drag', now.seam, lineAt(plan, study.value, spot))
  else if (now.what === 'window') emit('window', spot.x, spot.y)
  else if (now.what === 'centre') emit('centre', spot.x / inked.value.width, spot.y / inked.value.height)
  else if (zoom.times > 1) {
    const shift = {
      x: (event.clientX - pressed.x) / (inked.value.width * px.value * zoom.times),
      y: (event.clientY - pressed.y) / (inked.value.height * px.value * zoom.times),
    }
    emit('look', now.from.x - shift.x, now.from.y - shift.y)
  }
}
function up(event: PointerEvent): void {
  const now = drag.value
  drag.value = null
  if (!now) return
  if (isDrag(event)) {
    if (now.what !== 'look') emit('dropped')
    return
  }
  const spot = spotOf(event)
  const within = spot.x >= 0 && spot.y >= 0 && spot.x <= inked.value.width && spot.y <= inked.value.height
  if (now.what === 'boundary') emit('pick', { kind: 'seam', at: now.seam })
  else if (now.what !== 'window')
    emit('pick', (within && zoneAt(study.value, lineAt(plan, study.value, spot))) || { kind: 'front' })
}

interface Tick {
  at: number
  size: number
  said: string
}
function ticks(long: number): Tick[] {
  const step = unit === 'mm' ? (px.value < 1.6 ? 5 : 1) : 25.4 / (px.value < 1.6 ? 4 : 8)
  const found: Tick[] = []
  for (let n = 0; n * step <= long + 1e-6; n++) {
    const mm = n * step
    const whole = unit === 'mm' ? mm % 10 === 0 : n % Math.round(25.4 / step) === 0
    const half = unit === 'mm' ? mm % 5 === 0 : n % Math.round(12.7 / step) === 0
    const every = unit === 'mm' && px.value < 2.2 ? 20 : 10
    found.push({
      at: mm * px.value,
      size: whole ? 9 : half ? 6 : 4,
      said: whole && (unit === 'in' || mm % every === 0) ? (unit === 'mm' ? String(mm) : inches(mm)) : '',
    })
  }
  return found
}
const across = computed(() => ticks(plan.width ?? 0))
const along = computed(() => ticks(plan.height ?? 0))

/** Numbers of the bands beside them, verdicts beside flagged seams. */
const beside = computed(() => {
  if (!marks || zoom.times > 1 || through) return []
  const off = flat ? border.value + mat.value + 17 / px.value : 0
  const numbers = study.value.bands.map((band, k) => ({
    key: `band-${k}`,
    picked: { kind: 'band', at: k } as Picked,
    spot: onPage(markAt(plan, study.value, (band.begin + band.end) / 2, off)),
    said: String(k + 1),
    title: `Band ${k + 1}, ${band.name}: laid ${ordinal(study.value.order.indexOf(k))}`,
    seam: null as (typeof study.value.seams)[number] | null,
  }))
  const seams = study.value.seams.flatMap((seam, k) =>
    seam.flags.length
      ? [
          {
            key: `seam-${k}`,
            picked: { kind: 'seam', at: k } as Picked,
            spot: onPage(
              markAt(
                plan,
                study.value,
                ((seam.begin + seam.end) / 2) % study.value.length,
                flat ? off + 27 / px.value : 0,
              ),
            ),
            said: '',
            title: seam.flags.map((flag) => flag.text).join(' '),
            seam,
          },
        ]
      : [],
  )
  return [...numbers, ...seams]
})
/** The picked band or seam as a line along the front's edge. */
const outline = computed(() => {
  if (!flat || zoom.times > 1 || picked.kind === 'front') return null
  const seam = picked.kind === 'seam' ? study.value.seams[picked.at] : undefined
  const found =
    picked.kind === 'band'
      ? study.value.bands[picked.at]
      : seam && { begin: seam.begin, end: Math.max(seam.end, seam.begin + 0.6) }
  if (!found) return null
  const off = border.value + mat.value + 3 / px.value
  const [from, to] = [found.begin, found.end].map((at) => onPage(markAt(plan, study.value, at, off)))
  return from && to ? { x1: from.x, y1: from.y, x2: to.x, y2: to.y } : null
})
const windowPath = computed(() =>
  (through?.outline ?? [])
    .map(
      (ring) =>
        `M${ring
          .map(([x = 0, y = 0]) => {
            const at = onPage({ x, y })
            return `${at.x.toFixed(1)} ${at.y.toFixed(1)}`
          })
          .join('L')}Z`,
    )
    .join(''),
)
// -- the layer on top that is held: its first motif in a box
const top = computed(() => (heldTop === null ? undefined : plan.tops?.[heldTop]))
const round = (value: number): number => Math.round(value * 10) / 10
const topBox = computed(() => {
  const now = top.value
  if (!now || now.motif === 'all' || zoom.times > 1) return null
  const half = (now.step ?? 16) / 2
  const middle = onPage({ x: (now.x ?? 0) + half, y: (now.y ?? 0) + half })
  return { middle, side: Math.max(26, (now.size ?? 8) * px.value), turn: now.turn ?? 0 }
})
type Hold = { what: 'move' | 'size' | 'turn'; from: Spot; was: PanelTop }
let holding: Hold | null = null
function grab(event: PointerEvent, what: Hold['what']): void {
  if (!top.value) return
  holding = { what, from: spotOf(event), was: { ...top.value } }
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
}
function pull(event: PointerEvent): void {
  if (!holding) return
  const { what, from, was } = holding
  const spot = spotOf(event)
  const half = (was.step ?? 16) / 2
  const away = { x: spot.x - (was.x ?? 0) - half, y: spot.y - (was.y ?? 0) - half }
  if (what === 'move')
    emit('top', { x: round((was.x ?? 0) + spot.x - from.x), y: round((was.y ?? 0) + spot.y - from.y) })
  else if (what === 'size') emit('top', { size: Math.max(1, round(Math.SQRT2 * Math.hypot(away.x, away.y))) })
  else emit('top', { turn: Math.round((Math.atan2(away.x, -away.y) * 180) / Math.PI) })
}
function letGo(): void {
  if (holding) emit('topDropped')
  holding = null
}
function nudgeTop(event: KeyboardEvent): void {
  const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
  if (!by || !top.value) return
  event.preventDefault()
  event.stopPropagation()
  const step = event.shiftKey ? 5 : 1
  emit('top', {
    x: round((top.value.x ?? 0) + step * (by[0] ?? 0)),
    y: round((top.value.y ?? 0) + step * (by[1] ?? 0)),
  })
  emit('topDropped')
}

const said = computed(() => `${length(plan.width ?? 0, unit)} wide, ${length(plan.height ?? 0, unit)} high`)
const centreSpot = computed(() => {
  if (!layoutOf(plan).centred) return null
  const [cx = 0.5, cy = 0.5] = plan.centre ?? []
  return onPage({ x: cx * inked.value.width, y: cy * inked.value.height })
})
</script>

<template>
  <div
    ref="frame"
    class="mat"
    :class="{ dragging: drag }"
    @pointerdown="down"
    @pointermove="move"
    @pointerup="up"
    @pointercancel="drag = null"
  >
    <div
      v-if="mat"
      class="sheet"
      :style="{ ...box(0, 0, outer.width, outer.height), backgroundColor: study.mat ?? '#888888' }"
    ></div>
    <div
      class="sheet"
      :style="{ ...box(mat, mat, plan.width ?? 1, plan.height ?? 1), backgroundColor: study.card }"
      :title="said"
    ></div>
    <div class="inked" :style="box(inked.left, inked.top, inked.width, inked.height)">
      <PanelPicture v-if="study.rows" :painting="painting" />
    </div>
    <svg class="over" aria-hidden="true">
      <g v-if="zoom.times === 1" :transform="`translate(${place.left + mat * px} ${place.top - 4})`" class="ruler">
        <g v-for="tick in across" :key="tick.at" :transform="`translate(${tick.at} 0)`">
          <path :d="`M0 0v${-tick.size}`" />
          <text v-if="tick.said" y="-12" text-anchor="middle">{{ tick.said }}</text>
        </g>
      </g>
      <g v-if="zoom.times === 1" :transform="`translate(${place.left - 4} ${place.top + mat * px})`" class="ruler">
        <g v-for="tick in along" :key="tick.at" :transform="`translate(0 ${tick.at})`">
          <path :d="`M0 0h${-tick.size}`" />
          <text v-if="tick.said" x="-12" dy="5" text-anchor="end">{{ tick.said }}</text>
        </g>
      </g>
      <rect
        v-if="bleed && zoom.times === 1"
        class="bleed"
        :x="place.left + (mat - bleed) * px"
        :y="place.top + (mat - bleed) * px"
        :width="((plan.width ?? 0) + 2 * bleed) * px"
        :height="((plan.height ?? 0) + 2 * bleed) * px"
      />
      <line v-if="outline" v-bind="outline" class="picked" />
      <circle v-if="centreSpot && !through" :cx="centreSpot.x" :cy="centreSpot.y" r="7" class="centre" />
      <path
        v-if="through"
        class="veil"
        fill-rule="evenodd"
        :d="`M${place.left} ${place.top}h${outer.width * px}v${outer.height * px}h${-outer.width * px}Z${windowPath}`"
      />
      <path v-if="through" class="window" :d="windowPath" />
    </svg>
    <button
      v-for="mark in beside"
      :key="mark.key"
      type="button"
      class="mark"
      :class="{ on: picked.kind !== 'front' && mark.key === `${picked.kind}-${picked.at}`, bare: mark.seam }"
      :style="{ left: `${mark.spot.x}px`, top: `${mark.spot.y}px` }"
      :title="mark.title"
      :aria-label="mark.title"
      @pointerdown.stop
      @click="emit('pick', mark.picked)"
    >
      <template v-if="!mark.seam">{{ mark.said }}</template>
      <MudGlass v-else-if="mark.seam.mud >= mudLine" :mud="mark.seam.mud" :line="mudLine" :size="22" />
      <svg v-else width="20" height="20" viewBox="0 0 20 20">
        <path v-if="mark.seam.flags.some((flag) => flag.code === 'hard_line')" d="M10 2v16M6 5v10M14 5v10" />
        <circle v-else-if="mark.seam.kind === 'swamped'" cx="10" cy="10" r="6" />
        <path v-else d="M4 7h12M4 13h12" />
      </svg>
    </button>
    <div
      v-if="topBox"
      class="held"
      :style="{
        left: `${topBox.middle.x}px`,
        top: `${topBox.middle.y}px`,
        width: `${topBox.side}px`,
        height: `${topBox.side}px`,
        transform: `translate(-50%, -50%) rotate(${topBox.turn}deg)`,
      }"
      @pointerdown.stop
      @pointermove.stop="pull"
      @pointerup.stop="letGo"
      @pointercancel="letGo"
    >
      <button
        type="button"
        class="body"
        aria-label="The held layer: drag it, or move it with the arrow keys"
        @pointerdown.stop="grab($event, 'move')"
        @keydown="nudgeTop"
      ></button>
      <span
        v-if="top?.motif !== 'drops'"
        class="knob turn"
        title="Turn it"
        @pointerdown.stop="grab($event, 'turn')"
      ></span>
      <span class="knob size" title="Size it" @pointerdown.stop="grab($event, 'size')"></span>
    </div>
    <slot />
  </div>
</template>

<style scoped>
.mat {
  position: relative;
  overflow: hidden;
  min-height: 0;
  background: var(--table);
  touch-action: none;
  user-select: none;
}
.sheet,
.inked {
  position: absolute;
}
.sheet {
  box-shadow: 0 2px 8px var(--shadow);
}
.over {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}
.ruler path {
  stroke: var(--text);
  stroke-width: 1;
}
.ruler text {
  fill: var(--text);
  font: 400 13px/1 var(--body);
}
.bleed {
  fill: none;
  stroke: var(--text);
  stroke-width: 1;
  stroke-dasharray: 5 4;
}
.picked {
  stroke: var(--text);
  stroke-width: 4;
}
.centre {
  fill: none;
  stroke: var(--focus);
  stroke-width: 2;
  paint-order: stroke;
}
.veil {
  fill: var(--table);
  fill-opacity: 0.82;
}
.window {
  fill: none;
  stroke: var(--text);
  stroke-width: 2;
}
.held {
  position: absolute;
}
.body {
  width: 100%;
  height: 100%;
  padding: 0;
  border: 2px dashed var(--focus);
  background: none;
  cursor: move;
  touch-action: none;
}
.knob {
  position: absolute;
  width: 18px;
  height: 18px;
  border: 2px solid var(--text);
  background: var(--raised);
  touch-action: none;
}
.knob.turn {
  top: -28px;
  left: calc(50% - 9px);
  border-radius: 50%;
  cursor: grab;
}
.knob.size {
  right: -9px;
  bottom: -9px;
  cursor: nwse-resize;
}
.mark {
  position: absolute;
  display: grid;
  place-content: center;
  width: 26px;
  height: 26px;
  padding: 0;
  transform: translate(-50%, -50%);
  border: 1px solid var(--line);
  border-radius: 50%;
  background: var(--raised);
  font-size: 15px;
  font-weight: 600;
  line-height: 1;
  cursor: pointer;
}
.mark.on {
  background: var(--strong);
  color: var(--on-strong);
}
.mark.bare {
  border-radius: 4px;
}
.mark.bare.on {
  background: var(--raised);
  color: var(--text);
  outline: 2px solid var(--text);
}
.mark svg path,
.mark svg circle {
  fill: none;
  stroke: currentcolor;
  stroke-width: 2;
}
</style>

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
import { length, type Unit } from '@/shared/units'
import { layoutOf, lineAt, markAt, zoneAt, type Spot } from './geometry'
import FrontMarks from './FrontMarks.vue'
import FrontRulers from './FrontRulers.vue'
import HeldLayer from './HeldLayer.vue'
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
const top = computed(() => {
  const held = heldTop === null ? undefined : plan.tops?.[heldTop]
  return held && held.motif !== 'all' && zoom.times === 1 ? held : null
})

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
      <g v-if="zoom.times === 1" :transform="`translate(${place.left} ${place.top})`">
        <FrontRulers :width="plan.width ?? 0" :height="plan.height ?? 0" :unit="unit" :px="px" :off="mat * px" />
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
    <FrontMarks
      v-if="marks && zoom.times === 1 && !through"
      :plan="plan"
      :study="study"
      :picked="picked"
      :off="border + mat"
      :px="px"
      :mud-line="mudLine"
      :on-page="onPage"
      @pick="(mark) => emit('pick', mark)"
    />
    <HeldLayer
      v-if="top"
      :top="top"
      :px="px"
      :on-page="onPage"
      :spot-of="spotOf"
      @edit="(edit) => emit('top', edit)"
      @dropped="emit('topDropped')"
    />
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
</style>

<script setup lang="ts">
/**
 * The line across the bands: how much of every ink lies where, turn and turn about above and below, and between them
 * what comes of it. Bands and seams are picked on it, boundaries moved with pointer or keys.
 */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'

import type { PanelItem, PanelStudy } from '@/shared/api'
import type { Picked } from './usePanel'
import { length, type Unit } from '@/shared/units'
import { layoutOf } from './geometry'

const { plan, study, picked, unit } = defineProps<{ plan: PanelItem; study: PanelStudy; picked: Picked; unit: Unit }>()
const emit = defineEmits<{
  pick: [picked: Picked]
  drag: [seam: number, at: number]
  dropped: []
  nudge: [seam: number, by: number]
}>()

const tape = ref<HTMLElement | null>(null)
const { width } = useElementSize(tape)
const across = (mm: number): string => `${(100 * mm) / study.length}%`
const ends = (begin: number, end: number) => ({ left: across(begin), width: across(Math.max(0, end - begin)) })
/** Height of a lane in the drawing of amounts. */
const LANE = 18
const most = computed(() =>
  Math.max(1e-6, ...study.bands.flatMap((band) => band.amounts.map(([, passes = 0]) => passes))),
)
const between = (k: number): number => (study.seams[k]?.end ?? 0) - (study.seams[k]?.begin ?? 0)
/** How much of an ink lies along the line, as a hill on its lane. */
function hill(amounts: number[][], above: boolean): string {
  const places = amounts.map(([at = 0, passes = 0]) => {
    const high = (LANE * passes) / most.value
    return `${(1000 * at) / study.length} ${above ? LANE - high : high}`
  })
  const foot = above ? LANE : 0
  const [first, last] = [amounts[0]?.[0] ?? 0, amounts[amounts.length - 1]?.[0] ?? 0].map(
    (at) => (1000 * at) / study.length,
  )
  return `M${first} ${foot}L${places.join('L')}L${last} ${foot}Z`
}
const bands = computed(() =>
  study.bands.map((band, k) => ({
    ...band,
    k,
    room: ((band.end - band.begin) / study.length) * width.value,
    locked: plan.bands?.[k]?.width !== null && plan.bands?.[k]?.width !== undefined,
    // As far as the ink goes, fading where it ends.
    box: ends(Math.max(0, band.laid_from), Math.min(study.length, band.laid_to)),
    hill: hill(band.amounts, k % 2 === 0),
    most: Math.max(...band.amounts.map(([, passes = 0]) => passes)),
    lane: k % 2 ? 'below' : 'above',
    own: ends(band.begin, band.end),
    // The name has half of what lies between as well.
    label: ends(band.begin - between(k - 1) / 2, band.end + between(k) / 2),
    on: picked.kind === 'band' && picked.at === k,
  })),
)
const seams = computed(() =>
  study.seams.map((seam, k) => ({
    ...seam,
    k,
    box: ends(seam.begin, seam.end),
    middle: across((seam.begin + seam.end) / 2),
    paint: `linear-gradient(to right, ${seam.along.join(', ')})`,
    on: picked.kind === 'seam' && picked.at === k,
    said: `${study.bands[seam.pair[0] ?? 0]?.name} and ${study.bands[seam.pair[1] ?? 0]?.name}`,
    shifts: k < study.bands.length - 1,
  })),
)

let dragging: number | null = null
function down(event: PointerEvent, seam: number): void {
  dragging = seam
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
  emit('pick', { kind: 'seam', at: seam })
}
function move(event: PointerEvent): void {
  const bounds = tape.value?.getBoundingClientRect()
  if (dragging === null || !bounds) return
  emit('drag', dragging, ((event.clientX - bounds.left) / bounds.width) * study.length)
}
function up(): void {
  if (dragging !== null) emit('dropped')
  dragging = null
}
/** Gone over with Tab a seam is left as it is; Enter picks it, and so does moving it. */
function key(event: KeyboardEvent, seam: number): void {
  if (event.key === 'Enter' || event.key === ' ') {
    event.preventDefault()
    emit('pick', { kind: 'seam', at: seam })
    return
  }
  const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -1, ArrowDown: 1 }[event.key]
  if (by === undefined) return
  event.preventDefault()
  event.stopPropagation()
  emit('pick', { kind: 'seam', at: seam })
  emit('nudge', seam, by * (event.shiftKey ? 5 : 0.5))
}
/** Arrow keys walk along the bands. */
function walk(event: KeyboardEvent): void {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
  const all = [...(tape.value?.querySelectorAll<HTMLElement>('.band') ?? [])]
  const at = all.indexOf(document.activeElement as HTMLElement)
  if (by === undefined || at < 0) return
  event.preventDefault()
  all[(at + by + all.length) % all.length]?.focus()
}
</script>

<template>
  <section class="holder" aria-label="The bands">
    <div ref="tape" class="tape" @keydown="walk">
      <svg
        v-for="lane in ['above', 'below']"
        :key="lane"
        class="amounts"
        :class="lane"
        :viewBox="`0 0 1000 ${LANE}`"
        preserveAspectRatio="none"
        aria-hidden="true"
      >
        <path
          v-for="band in bands.filter((each) => each.lane === lane)"
          :key="band.k"
          :d="band.hill"
          :fill="band.hex"
        />
      </svg>
      <button
        v-for="band in bands"
        :key="band.k"
        type="button"
        class="band"
        :class="[band.lane, { on: band.on }]"
        :style="band.box"
        :aria-pressed="band.on"
        :title="`${band.name}: up to ${Math.round(10 * band.most) / 10} passes`"
        :aria-label="`Band ${band.k + 1}: ${band.name}, ${length(band.end - band.begin, unit)}${band.locked ? ', held' : ''}`"
        @click="emit('pick', band.on ? { kind: 'front' } : { kind: 'band', at: band.k })"
      ></button>
      <i
        v-for="band in bands"
        :key="`own-${band.k}`"
        class="seen"
        :style="{ ...band.own, backgroundColor: band.hex }"
      ></i>
      <template v-for="seam in seams" :key="seam.k">
        <i class="seen" :class="{ on: seam.on }" :style="{ ...seam.box, background: seam.paint }"></i>
        <span
          v-if="seam.shifts && !layoutOf(plan).overlaid"
          class="grip"
          :class="{ on: seam.on, flagged: seam.flags.length }"
          role="slider"
          tabindex="0"
          :style="{ left: seam.middle }"
          :aria-label="`Seam of ${seam.said}`"
          :aria-valuemin="0"
          :aria-valuemax="Math.round(study.length)"
          :aria-valuenow="Math.round((seam.begin + seam.end) / 2)"
          :aria-valuetext="`${length((seam.begin + seam.end) / 2, unit)}${seam.flags.length ? '; ' + seam.flags.map((flag) => flag.text).join(' ') : ''}`"
          :title="`${seam.said}: drag, or arrow keys; Enter opens it`"
          @pointerdown="down($event, seam.k)"
          @pointermove="move"
          @pointerup="up"
          @pointercancel="up"
          @keydown="key($event, seam.k)"
        ></span>
      </template>
    </div>
    <div class="labels" aria-hidden="true">
      <span v-for="band in bands" :key="band.k" :style="band.label" :class="{ on: band.on }">
        <b v-if="band.room > 34">{{ band.name }}</b><b v-else>{{ band.k + 1 }}</b>
        <small>{{ length(band.end - band.begin, unit) }}<template v-if="band.locked"> held</template></small>
      </span>
    </div>
  </section>
</template>

<style scoped>
.holder {
  padding: 6px 4px 0;
}
.tape {
  position: relative;
  height: 50px;
}
.band {
  position: absolute;
  height: 17px;
  padding: 0;
  border: 0;
  background: none;
  cursor: pointer;
}
.amounts {
  position: absolute;
  left: 0;
  width: 100%;
  height: 18px;
}
/* The reach of a finger: what is seen of it is narrower. */
.band::after {
  position: absolute;
  inset: -4px 0 -12px;
  content: '';
}
.band.below::after {
  inset: -12px 0 -4px;
}
.above {
  top: 0;
}
.below {
  bottom: 0;
}
.band.on {
  outline: 3px solid var(--text);
  outline-offset: 1px;
  z-index: 1;
}
.seen {
  position: absolute;
  top: 18px;
  height: 14px;
  pointer-events: none;
}
.seen.on {
  outline: 3px solid var(--text);
  z-index: 1;
}
.grip {
  position: absolute;
  top: 6px;
  bottom: 6px;
  z-index: 2;
  width: 28px;
  margin-left: -14px;
  cursor: ew-resize;
  touch-action: none;
}
.grip::before {
  position: absolute;
  top: 0;
  bottom: 0;
  left: 12px;
  width: 5px;
  border: 1px solid var(--text);
  background: var(--raised);
  content: '';
}
.grip.flagged::before {
  border-style: double;
  border-width: 3px;
}
.grip.on::before {
  background: var(--strong);
}
.labels {
  position: relative;
  height: 46px;
  margin-top: 3px;
}
.labels span {
  position: absolute;
  display: grid;
  overflow: hidden;
  justify-items: center;
  padding: 0 2px;
  text-align: center;
}
.labels b {
  display: -webkit-box;
  overflow: hidden;
  max-width: 100%;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  font: 500 15px/1.05 var(--colour-names);
}
.labels small {
  font-size: 13px;
  line-height: 1.2;
  white-space: nowrap;
}
.labels .on b {
  font-weight: 700;
}
</style>

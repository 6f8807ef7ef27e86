<script setup lang="ts">
/** The layer on top that is held: its first motif in a box that is dragged, sized and turned. */
import { computed } from 'vue'

import type { PanelTop } from '@/shared/api'
import type { Spot } from './geometry'

const { top, px, onPage, spotOf } = defineProps<{
  top: PanelTop
  /** Pixels a millimetre. */
  px: number
  /** From mm on the inked area to px on the page. */
  onPage: (spot: Spot) => Spot
  /** Where on the inked area the pointer is, mm. */
  spotOf: (event: PointerEvent) => Spot
}>()
const emit = defineEmits<{ edit: [edit: Partial<PanelTop>]; dropped: [] }>()

const round = (value: number): number => Math.round(value * 10) / 10
const box = computed(() => {
  const half = (top.step ?? 16) / 2
  const middle = onPage({ x: (top.x ?? 0) + half, y: (top.y ?? 0) + half })
  return { middle, side: Math.max(26, (top.size ?? 8) * px), turn: top.turn ?? 0 }
})

type Hold = { what: 'move' | 'size' | 'turn'; from: Spot; was: PanelTop }
let holding: Hold | null = null
function grab(event: PointerEvent, what: Hold['what']): void {
  holding = { what, from: spotOf(event), was: { ...top } }
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
}
function pull(event: PointerEvent): void {
  if (!holding) return
  const { what, from, was } = holding
  const spot = spotOf(event)
  const half = (was.step ?? 16) / 2
  const away = { x: spot.x - (was.x ?? 0) - half, y: spot.y - (was.y ?? 0) - half }
  if (what === 'move')
    emit('edit', { x: round((was.x ?? 0) + spot.x - from.x), y: round((was.y ?? 0) + spot.y - from.y) })
  else if (what === 'size') emit('edit', { size: Math.max(1, round(Math.SQRT2 * Math.hypot(away.x, away.y))) })
  else emit('edit', { turn: Math.round((Math.atan2(away.x, -away.y) * 180) / Math.PI) })
}
function letGo(): void {
  if (holding) emit('dropped')
  holding = null
}
function moveByKey(event: KeyboardEvent): void {
  const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
  if (!by) return
  event.preventDefault()
  event.stopPropagation()
  const step = event.shiftKey ? 5 : 1
  emit('edit', { x: round((top.x ?? 0) + step * (by[0] ?? 0)), y: round((top.y ?? 0) + step * (by[1] ?? 0)) })
  emit('dropped')
}
</script>

<template>
  <div
    class="held"
    :style="{
      left: `${box.middle.x}px`,
      top: `${box.middle.y}px`,
      width: `${box.side}px`,
      height: `${box.side}px`,
      transform: `translate(-50%, -50%) rotate(${box.turn}deg)`,
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
      @keydown="moveByKey"
    ></button>
    <span
      v-if="top.motif !== 'drops'"
      class="knob turn"
      title="Turn it"
      @pointerdown.stop="grab($event, 'turn')"
    ></span>
    <span class="knob size" title="Size it" @pointerdown.stop="grab($event, 'size')"></span>
  </div>
</template>

<style scoped>
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
</style>

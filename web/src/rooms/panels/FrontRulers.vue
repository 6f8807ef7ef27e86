<script setup lang="ts">
/** Rulers along the upper and the left side of a card front. */
import { computed } from 'vue'

import { inches, type Unit } from '@/shared/units'

const { width, height, unit, px, off } = defineProps<{
  /** Of the front, mm. */
  width: number
  height: number
  unit: Unit
  /** Pixels a millimetre. */
  px: number
  /** Of the front within its mat, px: rulers stand outside of the mat. */
  off: number
}>()

interface Tick {
  at: number
  size: number
  said: string
}
function ticks(long: number): Tick[] {
  const step = unit === 'mm' ? (px < 1.6 ? 5 : 1) : 25.4 / (px < 1.6 ? 4 : 8)
  const made: Tick[] = []
  for (let n = 0; n * step <= long + 1e-6; n++) {
    const mm = n * step
    const whole = unit === 'mm' ? mm % 10 === 0 : n % Math.round(25.4 / step) === 0
    const half = unit === 'mm' ? mm % 5 === 0 : n % Math.round(12.7 / step) === 0
    const every = unit === 'mm' && px < 2.2 ? 20 : 10
    made.push({
      at: mm * px,
      size: whole ? 9 : half ? 6 : 4,
      said: whole && (unit === 'in' || mm % every === 0) ? (unit === 'mm' ? String(mm) : inches(mm)) : '',
    })
  }
  return made
}
const across = computed(() => ticks(width))
const along = computed(() => ticks(height))
</script>

<template>
  <g class="ruler" :transform="`translate(${off} -4)`">
    <g v-for="tick in across" :key="tick.at" :transform="`translate(${tick.at} 0)`">
      <path :d="`M0 0v${-tick.size}`" />
      <text v-if="tick.said" y="-12" text-anchor="middle">{{ tick.said }}</text>
    </g>
  </g>
  <g class="ruler" :transform="`translate(-4 ${off})`">
    <g v-for="tick in along" :key="tick.at" :transform="`translate(0 ${tick.at})`">
      <path :d="`M0 0h${-tick.size}`" />
      <text v-if="tick.said" x="-12" dy="5" text-anchor="end">{{ tick.said }}</text>
    </g>
  </g>
</template>

<style scoped>
.ruler path {
  stroke: var(--text);
  stroke-width: 1;
}
.ruler text {
  fill: var(--text);
  font: 400 13px/1 var(--body);
}
</style>

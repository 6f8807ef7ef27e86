<script setup lang="ts">
/** The inks on the painter's circle: hue around, strength of colour outwards, greys in the middle. */
import { computed } from 'vue'

import type { StashInk } from '@/shared/api'
import { formulaSaid } from '../../generated/words'

const { inks, open, picked, several } = defineProps<{
  inks: readonly StashInk[]
  open: number | null
  picked: ReadonlySet<number>
  several: boolean
}>()
const emit = defineEmits<{ open: [ink: StashInk]; pick: [ink: StashInk] }>()

const R = 272
const named = [
  [0, 'red'],
  [60, 'orange'],
  [120, 'yellow'],
  [180, 'green'],
  [240, 'blue'],
  [300, 'purple'],
] as const

// Yellow stands on top, as it is the lightest.
const at = (hue: number, reach: number): { x: number; y: number } => {
  const angle = ((hue - 120 - 90) * Math.PI) / 180
  return { x: 310 + reach * Math.cos(angle), y: 310 + reach * Math.sin(angle) }
}

const dots = computed(() =>
  inks.map((ink) => {
    const chroma = Math.hypot(ink.lab[1] ?? 0, ink.lab[2] ?? 0)
    const reach = ink.hue === null ? 20 + (ink.lab[0] ?? 0) * 0.35 : 62 + (R - 78) * Math.min(1, chroma / 90)
    return { ink, ...at(ink.hue ?? (ink.id * 47) % 360, reach) }
  }),
)
const press = (ink: StashInk): void => (several ? emit('pick', ink) : emit('open', ink))
</script>

<template>
  <svg class="circle" viewBox="0 0 620 620" role="group" aria-label="Inks on the painter's circle">
    <circle cx="310" cy="310" :r="R" class="rim" />
    <circle cx="310" cy="310" r="58" class="rim soft" />
    <text v-for="[hue, name] in named" :key="name" class="named" v-bind="at(hue, R + 20)">{{ name }}</text>
    <g
      v-for="dot in dots"
      :key="dot.ink.id"
      class="dot"
      :class="{ on: open === dot.ink.id || picked.has(dot.ink.id) }"
      role="button"
      tabindex="0"
      :aria-pressed="several ? picked.has(dot.ink.id) : open === dot.ink.id"
      :aria-label="`${dot.ink.name}, ${formulaSaid[dot.ink.formula]}, ${dot.ink.words}`"
      @click="press(dot.ink)"
      @keydown.enter.space.prevent="press(dot.ink)"
    >
      <title>{{ dot.ink.name }}, {{ formulaSaid[dot.ink.formula] }}</title>
      <circle :cx="dot.x" :cy="dot.y" r="15" :fill="dot.ink.hex" />
      <text class="label" :x="dot.x" :y="dot.y - 20">{{ dot.ink.name }}</text>
    </g>
  </svg>
</template>

<style scoped>
.circle {
  display: block;
  width: 100%;
  height: min(640px, calc(100dvh - 216px));
  min-height: 420px;
  margin: 0 auto;
}
.rim {
  fill: var(--table);
  stroke: var(--line-soft);
}
.rim.soft {
  fill: none;
  stroke-dasharray: 3 5;
}
.named {
  fill: var(--text-soft);
  font: 500 17px var(--body);
  text-anchor: middle;
  dominant-baseline: middle;
}
.dot {
  cursor: pointer;
  outline: none;
}
.dot circle {
  stroke: #1c1c1c;
  stroke-width: 2.5;
}
.dot .label {
  visibility: hidden;
  fill: var(--text);
  stroke: var(--ground);
  stroke-width: 5;
  paint-order: stroke;
  font: 600 17px var(--colour-names);
  text-anchor: middle;
}
.dot:hover .label,
.dot:focus-visible .label,
.dot.on .label {
  visibility: visible;
}
.dot:focus-visible circle,
.dot.on circle {
  stroke: var(--focus);
  stroke-width: 5;
}
</style>

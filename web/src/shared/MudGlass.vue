<script setup lang="ts">
/**
 * Wempa's mark for mud: a glass in which sediment rises. Readable in black and
 * white from 16 px; the notch on the rim side is the user's mud line.
 */
import { computed, useId } from 'vue'
import { DEFAULT_MUD_LINE } from '../generated/words'

const { mud, line = DEFAULT_MUD_LINE, size = 40 } = defineProps<{ mud: number; line?: number; size?: number }>()

const id = useId()
const top = 4
const bottom = 29
const levelAt = (share: number): number => bottom - (bottom - top - 3) * Math.min(1, Math.max(0, share / 100))
const level = computed(() => levelAt(mud))
const mark = computed(() => levelAt(line))
const surface = computed(() => {
  const y = level.value
  return `M4 ${y} q4 -1.6 8 0 t8 0 t8 0 V32 H4z`
})
const settled = computed(() => (mud >= line ? 1 : 0.55))
</script>

<template>
  <svg :width="size" :height="size" viewBox="0 0 32 32" aria-hidden="true" class="glass">
    <defs>
      <clipPath :id="`${id}-inside`"><path d="M6.500 4h19l-2.300 25h-14.400z" /></clipPath>
      <pattern :id="`${id}-grit`" width="4" height="4" patternUnits="userSpaceOnUse">
        <circle cx="1" cy="1" r="0.800" class="grit" />
        <circle cx="3" cy="3" r="0.600" class="grit" />
      </pattern>
    </defs>
    <g :clip-path="`url(#${id}-inside)`">
      <path v-if="mud >= 1" :d="surface" class="sediment" :style="{ opacity: settled }" />
      <path v-if="mud >= 1" :d="surface" :fill="`url(#${id}-grit)`" />
    </g>
    <path d="M6 3h20l-2.500 26.500h-15z" class="wall" />
    <path :d="`M21.500 ${mark}h6`" class="line" />
  </svg>
</template>

<style scoped>
.glass {
  flex: none;
}
.wall {
  fill: none;
  stroke: var(--text);
  stroke-width: 2;
  stroke-linejoin: round;
}
.sediment {
  fill: var(--text);
}
.grit {
  fill: var(--slip);
}
.line {
  stroke: var(--text);
  stroke-width: 2;
}
</style>

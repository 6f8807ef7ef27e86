<script setup lang="ts">
/** The evening drawn out: a row for each piece, ink where hands lay it, hatching where it dries by itself. */
import { computed } from 'vue'

import type { Evening, TableStep } from '@/shared/api'

const { evening } = defineProps<{ evening: Evening }>()

const WIDE = 1000
const ROW = 34
const scale = computed(() => WIDE / Math.max(evening.total, 1))
const rows = computed(() =>
  evening.pieces.map((piece, n) => ({ name: piece.name, steps: evening.steps.filter((step) => step.piece === n) })),
)
const LAYING = ['lay', 'blend', 'back', 'load']
const colourOf = (step: TableStep): string =>
  LAYING.includes(step.do) && step.inks.length ? (step.inks[step.inks.length - 1]?.hex ?? '') : ''
/** Marks at whole minutes that leave room for their figures. */
const marks = computed(() => {
  const steps = [5, 10, 15, 30, 60, 120, 240]
  const every = steps.find((each) => each * scale.value >= 70) ?? 480
  return Array.from({ length: Math.floor((evening.total - 0.6 * every) / every) + 1 }, (_, n) => n * every)
})
const said = (minutes: number): string =>
  minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h${minutes % 60 ? ` ${minutes % 60}` : ''}`
</script>

<template>
  <figure class="line">
    <div class="names" aria-hidden="true">
      <span v-for="row in rows" :key="row.name" :title="row.name">{{ row.name }}</span>
    </div>
    <svg
      :viewBox="`0 0 ${WIDE} ${rows.length * ROW + 24}`"
      preserveAspectRatio="none"
      role="img"
      :aria-label="`The evening in ${rows.length} rows: hands busy for ${Math.round(evening.at_mat)} of ${Math.round(evening.total)} minutes`"
    >
      <defs>
        <pattern id="drying" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0v7" class="hatch" />
        </pattern>
      </defs>
      <g v-for="mark in marks" :key="mark"><path :d="`M${mark * scale} 0V${rows.length * ROW}`" class="mark" /></g>
      <g v-for="(row, n) in rows" :key="row.name" :transform="`translate(0 ${n * ROW})`">
        <rect
          v-for="step in row.steps"
          :key="step.n"
          :x="step.start * scale"
          :y="step.hands ? 4 : 12"
          :width="Math.max(1.2, step.minutes * scale)"
          :height="step.hands ? ROW - 8 : ROW - 22"
          :class="step.hands ? 'hands' : 'dries'"
          :style="colourOf(step) ? { fill: colourOf(step) } : undefined"
        >
          <title>{{ step.text }}</title>
        </rect>
      </g>
    </svg>
    <div class="clock" aria-hidden="true">
      <span v-for="mark in marks" :key="mark" :style="{ left: `${(100 * mark) / Math.max(evening.total, 1)}%` }">{{
        said(mark)
      }}</span>
    </div>
    <figcaption>Coloured: hands lay that ink. Grey: other work. Hatched: it dries by itself.</figcaption>
  </figure>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: minmax(90px, 150px) minmax(0, 1fr);
  gap: 0 10px;
  margin: 0 0 10px;
}
.names {
  display: grid;
  grid-auto-rows: 34px;
  align-items: center;
  font-size: 14px;
  line-height: 1.1;
}
.names span {
  overflow: hidden;
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
}
svg {
  width: 100%;
  height: calc(34px * v-bind('rows.length') + 24px);
  background: linear-gradient(var(--table), var(--table)) top / 100% calc(100% - 24px) no-repeat;
}
.hands {
  fill: var(--text-soft);
  stroke: var(--slip);
  stroke-width: 0.6;
  vector-effect: non-scaling-stroke;
}
.dries {
  fill: url('#drying');
  stroke: var(--line);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}
.hatch {
  stroke: var(--text-soft);
  stroke-width: 1.6;
}
.mark {
  stroke: var(--line-soft);
  vector-effect: non-scaling-stroke;
}
.clock {
  position: relative;
  grid-column: 2;
  height: 20px;
  margin-top: -24px;
  font-size: 13px;
  color: var(--text-soft);
}
.clock span {
  position: absolute;
  padding-left: 3px;
  white-space: nowrap;
}
figcaption {
  grid-column: 1 / -1;
  margin-top: 4px;
  font-size: 14px;
  color: var(--text-soft);
}
</style>

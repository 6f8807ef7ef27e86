<script setup lang="ts">
/** One ink with each of the others, both ways, on the card. */
import { computed } from 'vue'

import type { Chart } from './useChart'
import { inkOn } from './marks'
import VerdictMark from './VerdictMark.vue'
import { verdictKindSaid } from '../../generated/words'

const { chart, hero, order, names, hidden, picked } = defineProps<{
  chart: Chart
  /** Place of the ink in the chart. */
  hero: number
  order: readonly number[]
  names: readonly string[]
  hidden: Uint8Array
  picked: readonly [number, number] | null
}>()
const emit = defineEmits<{ pick: [cell: [number, number]]; open: [] }>()

const n = computed(() => chart.head.inks.length)
const dark = computed(() =>
  inkOn(...([1, 3, 5].map((i) => parseInt(chart.head.card.slice(i, i + 2), 16)) as [number, number, number])),
)
interface Mix {
  cell: [number, number]
  place: number
  colour: string
  ink: string
  said: string
}
function mix(below: number, above: number): Mix {
  const place = below * n.value + above
  const rgb = [0, 1, 2].map((i) => chart.rgb[3 * place + i] ?? 0) as [number, number, number]
  const kind = chart.head.kinds[chart.kind[place] ?? 0] ?? 'clean'
  return {
    cell: [below, above],
    place,
    colour: `rgb(${rgb.join(' ')})`,
    ink: inkOn(...rgb),
    said: `${names[above]} over ${names[below]}: ${verdictKindSaid[kind]}`,
  }
}
const kindAt = (place: number) => chart.head.kinds[chart.kind[place] ?? 0] ?? 'clean'
const rows = computed(() =>
  order
    .filter((other) => other !== hero)
    .map((other) => ({ other, mixes: [mix(hero, other), mix(other, hero)] }))
    .filter((row) => row.mixes.some((each) => !hidden[each.place])),
)
const isPicked = (each: Mix): boolean => picked?.[0] === each.cell[0] && picked[1] === each.cell[1]
function press(each: Mix): void {
  if (isPicked(each)) emit('open')
  else emit('pick', each.cell)
}
</script>

<template>
  <div class="hero" :style="{ backgroundColor: chart.head.card, color: dark }">
    <p class="legend">Each pair: the other over {{ names[hero] }}, then {{ names[hero] }} over the other.</p>
    <ul>
      <li v-for="row in rows" :key="row.other">
        <span class="alone" :style="{ backgroundColor: chart.head.alone[row.other] }"></span>
        <template v-for="each in row.mixes" :key="each.place">
          <button
            v-if="!hidden[each.place]"
            type="button"
            :style="{ backgroundColor: each.colour }"
            :aria-pressed="isPicked(each)"
            :aria-label="each.said"
            :title="each.said"
            @click="press(each)"
          >
            <VerdictMark :kind="kindAt(each.place)" :mud="chart.mud[each.place]" :colour="each.ink" />
          </button>
          <span v-else class="gone"></span>
        </template>
        <span class="name">{{ names[row.other] }}</span>
      </li>
    </ul>
    <p v-if="!rows.length" class="legend">Nothing is left with these filters.</p>
  </div>
</template>

<style scoped>
.hero {
  height: 100%;
  padding: 12px 16px;
  overflow-y: auto;
}
.legend {
  margin: 0 0 10px;
  font-style: italic;
}
ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(186px, 1fr));
  gap: 12px 16px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 16px 1fr 1fr;
  gap: 3px;
  content-visibility: auto;
  contain-intrinsic-height: 76px;
}
.alone,
button,
.gone {
  height: 50px;
}
button {
  display: grid;
  place-content: center;
  border: 0;
  border-radius: 0;
  cursor: pointer;
}
button[aria-pressed='true'] {
  outline: 3px solid #000;
  box-shadow: 0 0 0 6px #fff;
}
.gone {
  border: 1px dashed currentcolor;
  opacity: 0.35;
}
.name {
  grid-column: 1 / -1;
  font: 600 15px/1.15 var(--colour-names);
}
</style>

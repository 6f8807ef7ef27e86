<script setup lang="ts">
/** How much of each: two inks in every amount against one another, in their true colours, with the border of mud drawn in. */
import { computed, nextTick, ref, watch } from 'vue'

import type { AmountField, Crossing } from '@/shared/api'
import { fieldZoneSaid } from '../../generated/words'
import { pencilOn } from './pencil'

const { field, crossing, layNames, cardName, mudLine } = defineProps<{
  field: AmountField
  crossing: Crossing
  /** Of every entry of the stack. */
  layNames: readonly string[]
  cardName: string
  mudLine: number
}>()
const emit = defineEmits<{ lay: [column: number, row: number]; step: [at: number] }>()

const W = 880
const H = 520
const box = { x: 96, y: 22, w: 560, h: 420 }
const pencil = computed(() => pencilOn(crossing))
const columns = computed(() => field.across.amounts.length)
const rows = computed(() => field.up.amounts.length)
const cw = computed(() => box.w / columns.value)
const ch = computed(() => box.h / rows.value)
const x = (step: number): number => box.x + (step + 0.5) * cw.value
const y = (step: number): number => box.y + box.h - (step + 0.5) * ch.value
const nameOf = (entry: number): string => layNames[entry] ?? ''
const amount = (axis: AmountField['across'], at: number): string => {
  const value = axis.amounts[at] ?? 0
  if (!value) return 'none'
  return axis.by_dose ? `dose ${value}` : `${value} ${value === 1 ? 'pass' : 'passes'}`
}
const border = computed(() =>
  field.border.map(([a = 0, b = 0, c = 0, d = 0]) => `M${x(a)} ${y(b)}L${x(c)} ${y(d)}`).join(''),
)
/** Names stand on colours of their own. */
const inkOn = (hex: string): string => {
  const [r, g, b] = [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16))
  return 0.3 * (r ?? 0) + 0.59 * (g ?? 0) + 0.11 * (b ?? 0) > 140 ? '#161616' : '#f6f6f6'
}
const cells = computed(() =>
  field.hexes.flatMap((row, r) =>
    row.map((hex, c) => ({
      r,
      c,
      hex,
      said: `${nameOf(field.across.entry)} ${amount(field.across, c)}, ${nameOf(field.up.entry)} ${amount(field.up, r)}: ${field.words[r]?.[c]}${(field.mud[r]?.[c] ?? 0) >= mudLine ? ', mud' : ''}`,
    })),
  ),
)
const at = ref<[number, number]>([field.across.now, field.up.now])
watch(
  () => [field.across.now, field.up.now],
  ([c, r]) => (at.value = [c ?? 0, r ?? 0]),
)
const told = computed(() => cells.value.find((cell) => cell.c === at.value[0] && cell.r === at.value[1])?.said ?? '')

const svg = ref<SVGSVGElement | null>(null)
const moves: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
}
function act(event: KeyboardEvent, c: number, r: number): void {
  const move = moves[event.key]
  if (move) {
    at.value = [
      Math.min(columns.value - 1, Math.max(0, c + move[0])),
      Math.min(rows.value - 1, Math.max(0, r + move[1])),
    ]
    void nextTick(() => svg.value?.querySelector<SVGElement>(`[data-cell="${at.value.join('-')}"]`)?.focus())
  } else if (event.key === 'Enter' || event.key === ' ') emit('lay', c, r)
  else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div class="whole">
    <svg
      ref="svg"
      :viewBox="`0 0 ${W} ${H}`"
      class="card"
      role="group"
      :aria-label="`How much of each on ${cardName}`"
      @mouseleave="at = [field.across.now, field.up.now]"
    >
      <rect :width="W" :height="H" rx="3" :fill="crossing.bare.colour.hex" />
      <rect
        v-for="cell in cells"
        :key="`${cell.c}-${cell.r}`"
        :x="box.x + cell.c * cw"
        :y="box.y + box.h - (cell.r + 1) * ch"
        :width="cw + 0.6"
        :height="ch + 0.6"
        :fill="cell.hex"
        class="spot"
        :class="{ at: cell.c === at[0] && cell.r === at[1] }"
        :data-cell="`${cell.c}-${cell.r}`"
        :tabindex="cell.c === at[0] && cell.r === at[1] ? 0 : -1"
        role="button"
        :aria-label="`${cell.said}; press to lay just that`"
        @mouseenter="at = [cell.c, cell.r]"
        @focus="at = [cell.c, cell.r]"
        @click="emit('lay', cell.c, cell.r)"
        @keydown="act($event, cell.c, cell.r)"
      />
      <path :d="border" class="under" />
      <path :d="border" class="border" />
      <text
        v-for="each in field.named"
        :key="each.zone"
        :x="x(each.x)"
        :y="y(each.y) + 8"
        text-anchor="middle"
        class="zone"
        :fill="inkOn(field.hexes[each.y]?.[each.x] ?? '#ffffff')"
      >
        {{ fieldZoneSaid[each.zone] }}
      </text>
      <!-- What is laid now, and what is looked at. -->
      <g class="mark" :transform="`translate(${x(field.across.now)} ${y(field.up.now)})`">
        <circle r="11" class="halo" />
        <circle r="11" />
        <circle r="2.5" class="dot" />
      </g>
      <rect :x="box.x + at[0] * cw" :y="box.y + box.h - (at[1] + 1) * ch" :width="cw" :height="ch" class="ring" />
      <g :fill="pencil">
        <text
          v-for="(value, c) in field.across.amounts"
          :key="`c${c}`"
          :x="x(c)"
          :y="box.y + box.h + 22"
          text-anchor="middle"
          class="small"
        >
          {{ value }}
        </text>
        <text
          v-for="(value, r) in field.up.amounts"
          :key="`r${r}`"
          :x="box.x - 10"
          :y="y(r) + 6"
          text-anchor="end"
          class="small"
        >
          {{ value }}
        </text>
        <text :x="box.x + box.w / 2" :y="box.y + box.h + 52" text-anchor="middle" class="axis">
          {{ nameOf(field.across.entry) }}, {{ field.across.by_dose ? 'dose' : 'passes' }}
        </text>
        <text :transform="`translate(34 ${box.y + box.h / 2}) rotate(-90)`" text-anchor="middle" class="axis">
          {{ nameOf(field.up.entry) }}, {{ field.up.by_dose ? 'dose' : 'passes' }}
        </text>
      </g>
      <g :fill="pencil">
        <foreignObject :x="box.x + box.w + 20" y="22" width="190" height="470">
          <div class="beside" :style="{ color: pencil }">
            <p role="status">{{ told }}</p>
            <p class="hint">Press a spot to lay just that. The ring is what is laid now.</p>
          </div>
        </foreignObject>
      </g>
    </svg>
    <label v-if="field.step" class="third">
      <span>{{ nameOf(field.step.entry) }}: {{ amount(field.step, field.at) }}</span>
      <input
        type="range"
        min="0"
        :max="field.step.amounts.length - 1"
        :value="field.at"
        :aria-label="`Amount of ${nameOf(field.step.entry)}`"
        @input="emit('step', Number(($event.target as HTMLInputElement).value))"
      />
    </label>
  </div>
</template>

<style scoped>
.whole {
  position: relative;
  width: 100%;
  height: 100%;
}
.card {
  display: block;
  width: 100%;
  height: 100%;
  filter: drop-shadow(0 4px 9px var(--shadow));
}
.spot {
  cursor: pointer;
  outline: none;
}
.border,
.under {
  fill: none;
  stroke: #161616;
  stroke-width: 3;
  stroke-linecap: round;
  pointer-events: none;
}
.under {
  stroke: #f6f6f6;
  stroke-width: 7;
}
.zone {
  font: 600 24px/1 var(--colour-names);
  pointer-events: none;
}
.mark {
  pointer-events: none;
}
.mark circle {
  fill: none;
  stroke: #161616;
  stroke-width: 2.5;
}
.mark .halo {
  stroke: #f6f6f6;
  stroke-width: 6;
}
.mark .dot {
  fill: #161616;
}
.ring {
  fill: none;
  stroke: var(--focus);
  stroke-width: 3.5;
  pointer-events: none;
}
.small {
  font: 400 17px/1 var(--body);
}
.axis {
  font: 500 19px/1 var(--colour-names);
}
.beside p {
  margin: 0 0 12px;
  font: 400 18px/1.35 var(--body);
}
.beside .hint {
  font-size: 16px;
}
.third {
  position: absolute;
  right: 18px;
  bottom: 18px;
  display: grid;
  gap: 4px;
  padding: 8px 12px;
  background: var(--slip);
  border: 1px solid var(--line-soft);
  font-size: 16px;
}
.third input {
  width: 180px;
}
</style>

<script setup lang="ts">
/**
 * The card with crossing swatches: the first ink down both sides, the second across.
 * On the left the second lies over the first, on the right the other way round, so
 * that each ink alone and both orders are seen at once, in their predicted colours.
 */
import { computed } from 'vue'

import type { Crossing, CrossingPair } from '../api'
import { kindSaid } from '../words'
import MudGlass from './MudGlass.vue'

const { crossing, names, cardName, mudLine, pointed } = defineProps<{
  crossing: Crossing
  names: readonly string[]
  cardName: string
  mudLine: number
  pointed: number | null
}>()
const emit = defineEmits<{ point: [pair: number | null] }>()

const W = 880
const H = 640
const across = { x: 46, y: 226, w: W - 92, h: 188 }
const downs = [
  { x: 166, y: 40, w: 162, h: H - 80 },
  { x: 552, y: 40, w: 162, h: H - 80 },
] as const

const hex = (colour: { result: { colour: { hex: string } } } | undefined): string =>
  colour?.result.colour.hex ?? 'none'

/** A hand-blended strip: straight sides, ends a little uneven. */
function strip(box: { x: number; y: number; w: number; h: number }, upright: boolean): string {
  const { x, y, w, h } = box
  return upright
    ? `M${x} ${y + 6} q${w * 0.2} -9 ${w * 0.45} -3 t${w * 0.55} 1 V${y + h - 4} q${-w * 0.25} 8 ${-w * 0.5} 2 t${-w * 0.5} 1z`
    : `M${x + 5} ${y} H${x + w - 4} q8 ${h * 0.25} 2 ${h * 0.5} t1 ${h * 0.5} H${x + 3} q-8 ${-h * 0.2} -2 ${-h * 0.45} t4 ${-h * 0.55}z`
}

/** A name between the two strips; a long one is drawn closer together to fit. */
const fitted = (name = ''): Record<string, string | number> => ({
  'text-anchor': 'middle',
  ...(name.length > 17 ? { textLength: 208, lengthAdjust: 'spacingAndGlyphs' } : {}),
})

const crossings = computed(() =>
  crossing.pairs.slice(0, 2).map((pair: CrossingPair, i: number) => {
    const down = downs[i] ?? downs[0]
    return {
      pair,
      i,
      x: down.x,
      y: across.y,
      w: down.w,
      h: across.h,
      overFirst: pair.above === 1,
      label: `${names[pair.above]} over ${names[pair.below]}`,
      said: `${names[pair.above]} over ${names[pair.below]} on ${cardName}: ${pair.words}, ${kindSaid[pair.result.verdict.kind]}, mud ${Math.round(pair.result.verdict.mud)} of 100`,
    }
  }),
)
/** Pencil on the card: dark on a light card, light on a dark one. */
const pencil = computed(() => ((crossing.bare.result.colour.lab[0] ?? 100) > 55 ? '#1d1d1d' : '#f4f4f4'))
</script>

<template>
  <svg :viewBox="`0 0 ${W} ${H}`" class="card" role="group" :aria-label="`${cardName} with crossing swatches`">
    <rect :width="W" :height="H" rx="3" :fill="hex(crossing.bare)" data-colour="card" />
    <g v-if="crossing.alone.length === 2">
      <path
        v-for="(down, i) in downs"
        :key="i"
        :d="strip(down, true)"
        :fill="hex(crossing.alone[0])"
        :data-colour="i === 0 ? 'first' : undefined"
      />
      <path :d="strip(across, false)" :fill="hex(crossing.alone[1])" data-colour="second" />
      <g
        v-for="each in crossings"
        :key="each.i"
        role="img"
        tabindex="0"
        class="cross"
        :class="{ pointed: pointed === each.i }"
        :aria-label="each.said"
        @mouseenter="emit('point', each.i)"
        @mouseleave="emit('point', null)"
        @focus="emit('point', each.i)"
        @blur="emit('point', null)"
      >
        <rect
          :x="each.x"
          :y="each.y"
          :width="each.w"
          :height="each.h"
          :fill="each.pair.result.colour.hex"
          :data-colour="each.overFirst ? 'second-over-first' : 'first-over-second'"
        />
        <!-- The edge of whichever ink lies on top runs on across the other. -->
        <path
          v-if="each.overFirst"
          :d="`M${each.x} ${each.y}h${each.w}M${each.x} ${each.y + each.h}h${each.w}`"
          class="edge"
        />
        <path v-else :d="`M${each.x} ${each.y}v${each.h}M${each.x + each.w} ${each.y}v${each.h}`" class="edge" />
        <rect :x="each.x - 3" :y="each.y - 3" :width="each.w + 6" :height="each.h + 6" class="ring" />
      </g>
      <g class="pencil" :fill="pencil">
        <text :x="W / 2" y="66" v-bind="fitted(names[0])">{{ names[0] }}</text>
        <text :x="W / 2" :y="H - 52" v-bind="fitted(names[0])">{{ names[0] }}</text>
        <text :x="W / 2" :y="across.y - 12" v-bind="fitted(names[1])">{{ names[1] }}</text>
        <text v-for="each in crossings" :key="each.i" :x="each.x - 8" :y="each.y + each.h + 28" text-anchor="end" class="small">
          {{ each.overFirst ? 'across on top' : 'down on top' }}
        </text>
      </g>
      <svg
        v-for="each in crossings"
        :key="`glass${each.i}`"
        :x="each.x + each.w + 8"
        :y="each.y + each.h + 9"
        width="40"
        height="40"
        viewBox="0 0 34 34"
        class="on-card"
        :style="{ '--text': pencil, '--slip': hex(crossing.bare) }"
      >
        <MudGlass :mud="each.pair.result.verdict.mud" :line="mudLine" :size="34" />
      </svg>
    </g>
  </svg>
</template>

<style scoped>
.card {
  display: block;
  width: 100%;
  height: 100%;
  filter: drop-shadow(0 4px 9px var(--shadow));
}
.cross {
  outline: none;
}
.edge {
  fill: none;
  stroke: rgb(0 0 0 / 22%);
  stroke-width: 1.5;
}
.ring {
  fill: none;
  stroke: transparent;
  stroke-width: 4;
}
.cross:focus-visible .ring,
.cross.pointed .ring {
  stroke: var(--focus);
  stroke-dasharray: none;
}
.pencil .small {
  font: 400 18px/1 var(--body);
}
.pencil text:not(.small) {
  font: 500 21px/1 var(--colour-names);
}
</style>

<script setup lang="ts">
/** Other ways of showing the same stack: stamped over a solid, from a breath to saturated, drops of water. */
import { computed } from 'vue'

import type { Crossing, Strip } from '@/shared/api'
import { dropsIn, pencilOn } from './pencil'

const { crossing, names, layNames, cardName, mode, mudLine, strips } = defineProps<{
  crossing: Crossing
  /** Of the lay-downs, bottom first. */
  names: readonly string[]
  /** Of every entry of the stack. */
  layNames: readonly string[]
  cardName: string
  mode: 'stamped' | 'doses' | 'drops' | 'amounts'
  mudLine: number
  strips: readonly Strip[]
}>()

const W = 880
const H = 520
const pencil = computed(() => pencilOn(crossing))
/** The colour below the uppermost lay-down. */
const solid = computed(() => {
  const last = Math.max(...crossing.cut.map((cut) => cut.entry), 0)
  return crossing.steps[last - 1] ?? crossing.bare.colour.hex
})
/** A spoked wheel, as a stamp prints it. */
const wheel = (x: number, y: number, r: number): string => {
  const ring = (size: number): string =>
    `M${x - size} ${y}a${size} ${size} 0 1 0 ${2 * size} 0a${size} ${size} 0 1 0 ${-2 * size} 0z`
  const spokes = Array.from({ length: 8 }, (_, n) => {
    const turn = (n * Math.PI) / 4
    const [c, s] = [Math.cos(turn), Math.sin(turn)]
    const half = r * 0.06
    const at = (along: number, side: number): string => `${x + along * c - side * s} ${y + along * s + side * c}`
    return `M${at(r * 0.2, half)}L${at(r * 0.75, half)}L${at(r * 0.75, -half)}L${at(r * 0.2, -half)}z`
  })
  return `${ring(r)}${ring(r * 0.76)}${ring(r * 0.22)}${spokes.join('')}`
}
const stamps = computed(() =>
  Array.from({ length: 24 }, (_, n) => {
    const row = Math.floor(n / 6)
    return { x: 96 + (n % 6) * 138 + (row % 2 ? 40 : 0), y: 76 + row * 122, r: 44 }
  }),
)
const drops = dropsIn(120, { x: 30, y: 24, w: W - 60, h: H - 48 }, 20)
const rows = computed(() =>
  strips.map((strip, n) => {
    const height = Math.min(132, (H - 92) / Math.max(strips.length, 1))
    const name = strip.entry === null ? 'All of it' : (layNames[strip.entry] ?? '')
    const muddy = strip.steps.flatMap((step, k) => (step.mud >= mudLine ? [k] : []))
    return { strip, name, muddy, y: 48 + n * height, h: height - 24 }
  }),
)
const step = (W - 60) / 12
/** Where the amount is as laid now. */
const asLaid = computed(() => {
  const factors = strips[0]?.steps.map((each) => each.factor) ?? []
  const n = factors.findIndex((factor) => factor >= 1)
  if (n < 1) return null
  const [low, high] = [factors[n - 1] ?? 1, factors[n] ?? 1]
  return 30 + step * (n - 0.5 + Math.log(1 / low) / Math.log(high / low))
})
</script>

<template>
  <svg
    :viewBox="`0 0 ${W} ${H}`"
    class="card"
    role="img"
    :aria-label="`${cardName}: ${mode === 'doses' ? 'from a breath to saturated' : mode === 'drops' ? 'with drops of water' : 'stamped over a solid'}`"
  >
    <rect :width="W" :height="H" rx="3" :fill="crossing.bare.colour.hex" />
    <template v-if="mode === 'stamped' && crossing.alone.length">
      <defs>
        <clipPath id="on-solid"><rect x="30" y="20" :width="W - 230" :height="H - 40" /></clipPath>
        <clipPath id="off-solid"><rect :x="W - 200" y="0" width="200" :height="H" /></clipPath>
      </defs>
      <rect x="30" y="20" :width="W - 230" :height="H - 40" :fill="solid" data-colour="solid" />
      <g clip-path="url(#on-solid)" fill-rule="evenodd" :fill="crossing.full.colour.hex" data-colour="print">
        <path v-for="(at, n) in stamps" :key="n" :d="wheel(at.x, at.y, at.r)" />
      </g>
      <g clip-path="url(#off-solid)" fill-rule="evenodd" :fill="crossing.alone.at(-1)?.colour.hex">
        <path v-for="(at, n) in stamps" :key="n" :d="wheel(at.x, at.y, at.r)" />
      </g>
      <text :x="W - 16" :y="H - 14" text-anchor="end" :fill="pencil" class="small">
        {{ names.at(-1) }} on the bare card
      </text>
    </template>
    <template v-else-if="mode === 'drops'">
      <rect x="30" y="24" :width="W - 60" :height="H - 48" :fill="crossing.full.colour.hex" data-colour="field" />
      <template v-if="crossing.full.drops">
        <circle
          v-for="(drop, n) in drops"
          :key="n"
          :cx="drop.x"
          :cy="drop.y"
          :r="drop.r"
          :fill="crossing.full.drops.hex"
          data-colour="drop"
        />
      </template>
      <text v-else :x="W / 2" :y="H / 2" text-anchor="middle" class="invite" :fill="pencil">
        No water here yet: press Water drops below
      </text>
    </template>
    <template v-else-if="mode === 'doses'">
      <text x="30" y="28" :fill="pencil" class="small">a breath</text>
      <text :x="W - 30" y="28" text-anchor="end" :fill="pencil" class="small">saturated</text>
      <g v-for="row in rows" :key="row.y">
        <rect
          v-for="(each, n) in row.strip.steps"
          :key="n"
          :x="30 + n * step"
          :y="row.y"
          :width="step + 0.5"
          :height="row.h"
          :fill="each.hex"
          data-colour="dose"
        >
          <title>{{ each.factor.toFixed(2) }} × as laid, mud {{ Math.round(each.mud) }}, 0 to 100</title>
        </rect>
        <text x="30" :y="row.y + row.h + 17" :fill="pencil" class="small">{{ row.name }}</text>
        <!-- Under the steps that are mud: a line and the word. -->
        <g v-if="row.muddy.length" :fill="pencil" :stroke="pencil">
          <path
            v-for="k in row.muddy"
            :key="k"
            :d="`M${30 + k * step + 2} ${row.y + row.h + 4}h${step - 4}`"
            stroke-width="4"
          />
          <text
            :x="30 + ((row.muddy.at(-1) ?? 0) + 1) * step"
            :y="row.y + row.h + 21"
            text-anchor="end"
            class="small"
            stroke="none"
          >
            mud
          </text>
        </g>
      </g>
      <g v-if="asLaid" :stroke="pencil" :fill="pencil">
        <path :d="`M${asLaid} 36V${H - 30}`" stroke-width="1.5" stroke-dasharray="2 5" fill="none" />
        <text :x="asLaid" y="28" text-anchor="middle" class="small" stroke="none">as laid</text>
      </g>
    </template>
    <text v-else :x="W / 2" :y="H / 2" text-anchor="middle" class="invite" :fill="pencil">
      {{
        mode === 'amounts' && crossing.alone.length
          ? 'Lay down a second ink to see how much of each'
          : `Press an ink to lay it on ${cardName}`
      }}
    </text>
  </svg>
</template>

<style scoped>
.card {
  display: block;
  width: 100%;
  height: 100%;
  filter: drop-shadow(0 4px 9px var(--shadow));
}
.small {
  font: 400 18px/1 var(--body);
}
.invite {
  font: 500 28px/1 var(--colour-names);
}
</style>

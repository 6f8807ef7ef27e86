<script setup lang="ts">
/**
 * The card with crossing swatches: a strip across and a strip down for each ink, so
 * that each ink alone and every pair in both orders are seen at once, and beside them
 * all of it together, dry and wet, in their predicted colours.
 */
import { computed } from 'vue'

import type { Crossing, CrossingPair, Look } from '@/shared/api'
import { type VerdictKind, verdictKindSaid } from '../../generated/words'
import MudGlass from '@/shared/MudGlass.vue'
import { dabsIn, dropsIn, pencilOn } from './pencil'

const { crossing, names, cardName, mudLine, pointed } = defineProps<{
  crossing: Crossing
  names: readonly string[]
  cardName: string
  mudLine: number
  /** Which swatch is pointed at: its key. */
  pointed: string | null
}>()
const emit = defineEmits<{ point: [key: string | null]; pin: [key: string] }>()

const W = 880
const H = 520

interface Box {
  x: number
  y: number
  w: number
  h: number
}

/** A hand-blended strip: straight sides, ends a little uneven. */
function strip({ x, y, w, h }: Box, upright: boolean): string {
  return upright
    ? `M${x} ${y + 5} q${w * 0.2} -8 ${w * 0.45} -3 t${w * 0.55} 1 V${y + h - 4} q${-w * 0.25} 7 ${-w * 0.5} 2 t${-w * 0.5} 1z`
    : `M${x + 4} ${y} H${x + w - 4} q7 ${h * 0.25} 2 ${h * 0.5} t1 ${h * 0.5} H${x + 3} q-7 ${-h * 0.2} -2 ${-h * 0.45} t3 ${-h * 0.55}z`
}

const count = computed(() => crossing.alone.length)
/** Whether two inks cross once: nobody would see which was laid first. */
const either = computed(() => count.value === 2 && crossing.pairs.every((pair) => pair.either_order))
/** Where the strips lie. Of two inks the first comes down twice and the second across once. */
const lattice = computed(() => {
  const n = count.value
  const left = 26
  const right = n ? 596 : 0
  if (n === 0) return { across: [], downs: [] }
  if (n === 1) return { across: [{ ink: 0, x: left, y: 170, w: right - left, h: 180 }], downs: [] }
  if (n === 2) {
    const down = (x: number): Box & { ink: number } => ({ ink: 0, x, y: 30, w: 118, h: H - 60 })
    return {
      across: [{ ink: 1, x: left, y: 180, w: right - left, h: 160 }],
      downs: either.value ? [down(253)] : [down(112), down(394)],
    }
  }
  const top = 44
  const bottom = H - 16
  // Names stand clear of the strips that come down.
  const gutter = 148
  const pitchX = (right - left - gutter + 10) / n
  const pitchY = (bottom - top) / n
  const across = crossing.alone.map((_, ink) => ({
    ink,
    x: left,
    y: top + 20 + pitchY * ink,
    w: right - left,
    h: pitchY - 26,
  }))
  const downs = crossing.alone.map((_, ink) => ({
    ink,
    x: left + gutter + pitchX * ink,
    y: top - 14,
    w: pitchX - 18,
    h: bottom - top + 8,
  }))
  return { across, downs }
})

interface Cell extends Box {
  key: string
  pair: CrossingPair
  said: string
  /** Whether the strip that lies across is on top. */
  acrossOnTop: boolean
}

const say = (name: string, words: string, kind: VerdictKind, mud: number): string =>
  `${name} on ${cardName}: ${words}, ${verdictKindSaid[kind]}, mud ${Math.round(mud)}, 0 to 100`
const sayLook = (name: string, look: Look | undefined): string =>
  look ? say(name, look.words, look.verdict.kind, look.verdict.mud) : name

const pairOf = (below: number, above: number) =>
  crossing.pairs.find((pair) => pair.below === below && pair.above === above)

const cells = computed<Cell[]>(() => {
  const found: Cell[] = []
  for (const row of lattice.value.across)
    for (const [place, down] of lattice.value.downs.entries()) {
      // Of two inks the left crossing is in the stack's order; of more, what lies above the diagonal.
      const [below, above] = count.value === 2 ? (place === 0 ? [0, 1] : [1, 0]) : [row.ink, down.ink]
      const pair = pairOf(below ?? 0, above ?? 0)
      if (!pair) continue
      const name = `${names[pair.above]} over ${names[pair.below]}`
      found.push({
        key: `${pair.below}-${pair.above}`,
        x: down.x,
        y: row.y,
        w: down.w,
        h: row.h,
        pair,
        said: say(name, pair.words, pair.kind, pair.mud),
        acrossOnTop: pair.above === row.ink,
      })
    }
  return found
})

/** The arms of the strips, where each ink is alone. */
const arms = computed(() =>
  count.value === 2
    ? [
        { ...(lattice.value.downs[0] as Box), ink: 0, upright: true, mark: 'first' },
        ...lattice.value.downs.slice(1).map((box) => ({ ...box, ink: 0, upright: true, mark: undefined })),
        { ...(lattice.value.across[0] as Box), ink: 1, upright: false, mark: 'second' },
      ]
    : [
        ...lattice.value.downs.map((box) => ({ ...box, upright: true, mark: undefined })),
        ...lattice.value.across.map((box) => ({
          ...box,
          upright: false,
          mark: count.value === 1 ? 'first' : undefined,
        })),
      ],
)

/** The ink alone where its two strips cross each other. */
const selves = computed(() =>
  count.value < 3
    ? []
    : crossing.alone.map((look, ink) => {
        const row = lattice.value.across[ink] as Box
        const down = lattice.value.downs[ink] as Box
        return { ink, look, x: down.x, y: row.y, w: down.w, h: row.h }
      }),
)

const whole = computed(() => ({ x: count.value ? 640 : 300, y: 66, w: 214, h: 262 }))
const drops = computed(() => dropsIn(26, whole.value))
const pencil = computed(() => pencilOn(crossing))
const fullDabs = computed(() => dabsIn(crossing.full.patches, whole.value))
const wetDabs = computed(() =>
  dabsIn(crossing.wet.patches, { ...whole.value, y: whole.value.y + whole.value.h + 34, h: 96 }),
)

/** A long name is drawn closer together to fit. */
const fitted = (name: string, width: number, letter = 10.5): Record<string, string | number> =>
  name.length * letter > width ? { textLength: width, lengthAdjust: 'spacingAndGlyphs' } : {}

const label = (n: number): string => (count.value > 2 ? `${n + 1} ${names[n]}` : (names[n] ?? ''))

function act(event: KeyboardEvent, key: string): void {
  if (event.key !== 'Enter' && event.key !== ' ') return
  event.preventDefault()
  emit('pin', key)
}

const on = (key: string) => ({
  tabindex: 0,
  class: { cell: true, pointed: pointed === key },
  onMouseenter: () => emit('point', key),
  onMouseleave: () => emit('point', null),
  onFocus: () => emit('point', key),
  onBlur: () => emit('point', null),
  onClick: () => emit('pin', key),
  onKeydown: (event: KeyboardEvent) => act(event, key),
})
</script>

<template>
  <svg :viewBox="`0 0 ${W} ${H}`" class="card" role="group" :aria-label="`${cardName} with crossing swatches`">
    <rect :width="W" :height="H" rx="3" :fill="crossing.bare.colour.hex" data-colour="card" />
    <path
      v-for="(arm, n) in arms"
      :key="`arm${n}`"
      :d="strip(arm, arm.upright)"
      :fill="crossing.alone[arm.ink]?.colour.hex"
      :data-colour="arm.mark"
      v-bind="on(`alone-${arm.ink}`)"
      :tabindex="count === 2 ? (n === 1 ? -1 : 0) : arm.upright ? -1 : 0"
      role="img"
      :aria-label="sayLook(`${names[arm.ink]} alone`, crossing.alone[arm.ink])"
    />
    <rect
      v-for="self in selves"
      :key="`self${self.ink}`"
      :x="self.x"
      :y="self.y"
      :width="self.w"
      :height="self.h"
      :fill="self.look.colour.hex"
      class="self"
    />
    <g v-for="cell in cells" :key="cell.key" v-bind="on(cell.key)" role="img" :aria-label="cell.said">
      <rect
        :x="cell.x"
        :y="cell.y"
        :width="cell.w"
        :height="cell.h"
        :fill="cell.pair.hex"
        :data-colour="
          count === 2 ? (cell.pair.above === 1 ? 'second-over-first' : 'first-over-second') : `cell-${cell.key}`
        "
      />
      <!-- The edge of whichever ink lies on top runs on across the other. -->
      <path
        v-if="cell.acrossOnTop"
        :d="`M${cell.x} ${cell.y}h${cell.w}M${cell.x} ${cell.y + cell.h}h${cell.w}`"
        class="edge"
      />
      <path v-else :d="`M${cell.x} ${cell.y}v${cell.h}M${cell.x + cell.w} ${cell.y}v${cell.h}`" class="edge" />
      <rect :x="cell.x - 2" :y="cell.y - 2" :width="cell.w + 4" :height="cell.h + 4" class="ring" />
      <g v-if="cell.pair.mud >= mudLine" :transform="`translate(${cell.x + cell.w - 30} ${cell.y + cell.h - 30})`">
        <rect width="28" height="28" rx="2" class="label" />
        <svg x="2" y="2" width="24" height="24" viewBox="0 0 24 24" class="on-label">
          <MudGlass :mud="cell.pair.mud" :line="mudLine" :size="24" />
        </svg>
      </g>
    </g>

    <g class="pencil" :fill="pencil">
      <template v-if="count === 2">
        <text
          :x="either ? 386 : 312"
          y="62"
          :text-anchor="either ? 'start' : 'middle'"
          v-bind="fitted(names[0] ?? '', 150)"
        >
          {{ names[0] }}
        </text>
        <text
          :x="either ? 34 : 312"
          y="168"
          :text-anchor="either ? 'start' : 'middle'"
          v-bind="fitted(names[1] ?? '', either ? 210 : 150)"
        >
          {{ names[1] }}
        </text>
        <text v-for="cell in cells" :key="cell.key" :x="cell.x + cell.w + 8" :y="cell.y + cell.h + 22" class="small">
          {{ either ? 'in either order' : cell.acrossOnTop ? 'across on top' : 'down on top' }}
        </text>
      </template>
      <text v-else-if="count === 1" x="40" y="156">{{ names[0] }}</text>
      <template v-else-if="count > 2">
        <text
          v-for="(down, n) in lattice.downs"
          :key="`n${n}`"
          :x="down.x + down.w / 2"
          y="24"
          text-anchor="middle"
          class="small"
        >
          {{ n + 1 }}
        </text>
        <text
          v-for="(row, n) in lattice.across"
          :key="`r${n}`"
          :x="row.x + 2"
          :y="row.y - 5"
          class="small"
          v-bind="fitted(label(n), 140, 8.4)"
        >
          {{ label(n) }}
        </text>
      </template>
      <text v-else :x="W / 2" :y="H / 2" text-anchor="middle" class="invite">
        Press an ink to lay it on {{ cardName }}
      </text>
    </g>

    <g v-if="count" v-bind="on('full')" role="img" :aria-label="sayLook('All of it', crossing.full)">
      <rect
        v-bind="whole"
        :width="whole.w"
        :height="whole.h"
        :fill="crossing.full.patches[0]?.colour.hex ?? crossing.full.colour.hex"
        data-colour="full"
      />
      <rect v-for="(dab, n) in fullDabs" :key="`dab${n}`" v-bind="dab" data-colour="patch" />
      <template v-if="crossing.full.drops">
        <circle
          v-for="(drop, n) in drops"
          :key="n"
          :cx="drop.x"
          :cy="drop.y"
          :r="drop.r"
          :fill="crossing.full.drops.hex"
        />
      </template>
      <rect :x="whole.x - 2" :y="whole.y - 2" :width="whole.w + 4" :height="whole.h + 4" class="ring" />
    </g>
    <g
      v-if="count"
      v-bind="on('wet')"
      role="img"
      :aria-label="`All of it while wet on ${cardName}: ${crossing.wet.words}`"
    >
      <rect
        :x="whole.x"
        :y="whole.y + whole.h + 34"
        :width="whole.w"
        height="96"
        :fill="crossing.wet.patches[0]?.colour.hex ?? crossing.wet.colour.hex"
        data-colour="wet"
      />
      <rect v-for="(dab, n) in wetDabs" :key="`dab${n}`" v-bind="dab" />
      <rect :x="whole.x - 2" :y="whole.y + whole.h + 32" :width="whole.w + 4" height="100" class="ring" />
    </g>
    <g v-if="count" class="pencil" :fill="pencil">
      <text :x="whole.x" :y="whole.y - 12">{{ count > 1 ? 'All of it' : names[0] }}</text>
      <text :x="whole.x + whole.w" :y="whole.y - 12" text-anchor="end" class="small">dry</text>
      <text :x="whole.x + whole.w" :y="whole.y + whole.h + 24" text-anchor="end" class="small">while wet</text>
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
.cell {
  outline: none;
  cursor: pointer;
}
.self {
  pointer-events: none;
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
  pointer-events: none;
}
.label {
  fill: var(--slip);
}
.cell.pointed .ring,
.cell:focus-visible .ring {
  stroke: var(--focus);
}
path.cell:focus-visible {
  stroke: var(--focus);
  stroke-width: 4;
}
.pencil {
  pointer-events: none;
}
.pencil text {
  font: 500 21px/1 var(--colour-names);
}
.pencil .small {
  font: 400 18px/1 var(--body);
}
.pencil .invite {
  font-size: 30px;
}
</style>

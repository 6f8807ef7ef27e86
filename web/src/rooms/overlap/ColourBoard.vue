<script setup lang="ts">
/** The colour itself: its own name, what it is like among the inks owned, in other lights, in numbers. */
import { computed } from 'vue'

import type { Advice, Crossing, Look, StashInk } from '@/shared/api'
import TypedInput from '@/shared/TypedInput.vue'
import { illuminantSaid } from '../../generated/words'

const { look, what, colourName, advice, crossing, inks } = defineProps<{
  look: Look
  /** Which swatch it is. */
  what: string
  colourName: string
  advice: Advice | null
  crossing: Crossing
  inks: ReadonlyMap<number, StashInk>
}>()
const emit = defineEmits<{ name: [name: string] }>()

const numbers = computed(() => {
  const [l, a, b] = look.colour.lab
  const [, c, h] = look.colour.lch
  const n = (value = 0): string => value.toFixed(1)
  return [
    ['how sure', `±${look.margin.toFixed(1)} ΔE00`],
    ['L* a* b*', `${n(l)}  ${n(a)}  ${n(b)}`],
    ['C* h', `${n(c)}  ${n(h)}°`],
    ['hex', look.colour.hex + (look.colour.in_screen_gamut ? '' : ' (nearest the screen has)')],
  ]
})
const PLOT = { w: 270, h: 92 }
const curve = computed(() => {
  const most = Math.max(1, ...look.colour.spectrum)
  return look.colour.spectrum
    .map((value, n) => `${n ? 'L' : 'M'}${(n / 35) * PLOT.w} ${PLOT.h - (value / most) * (PLOT.h - 4)}`)
    .join('')
})
const top = computed(() => Math.round(100 * Math.max(1, ...look.colour.spectrum)))
const cautions = computed(() => advice?.notes ?? [])
</script>

<template>
  <section aria-label="This colour">
    <label class="own">
      <span>Your name for it</span>
      <TypedInput
        :value="colourName"
        aria-label="Your name for the colour"
        @typed="(name: string) => emit('name', name.trim())"
      />
    </label>

    <template v-if="advice?.neighbours.length">
      <h3>Beside inks you own</h3>
      <div v-for="near in advice.neighbours" :key="near.ink_id" class="near">
        <span class="touching" aria-hidden="true"
          ><i :style="{ backgroundColor: crossing.full.colour.hex }"></i
          ><i :style="{ backgroundColor: inks.get(near.ink_id)?.hex }"></i
        ></span>
        <span>{{ near.text }}</span>
      </div>
    </template>

    <template v-if="advice?.lights.length">
      <h3>In other lights</h3>
      <div v-for="light in advice.lights" :key="light.illuminant" class="near">
        <span class="touching lamp" :style="{ backgroundColor: light.bare }" aria-hidden="true">
          <i v-for="(hex, n) in light.alone" :key="n" :style="{ backgroundColor: hex }"></i
          ><i class="big" :style="{ backgroundColor: light.full }"></i>
        </span>
        <span
          >{{ illuminantSaid[light.illuminant] }} <small>{{ light.words }}</small></span
        >
      </div>
      <p v-for="note in cautions" :key="note.text" class="note">{{ note.text }}</p>
    </template>

    <h3>{{ what }} in numbers</h3>
    <dl>
      <template v-for="[name, value] in numbers" :key="name"
        ><dt>{{ name }}</dt>
        <dd>{{ value }}</dd></template
      >
    </dl>
    <svg
      :viewBox="`-2 -6 ${PLOT.w + 4} ${PLOT.h + 26}`"
      class="plot"
      role="img"
      :aria-label="`Reflectance of ${what} from 380 to 730 nm`"
    >
      <path :d="`M0 0V${PLOT.h}H${PLOT.w}`" class="axis" />
      <path :d="curve" class="curve" />
      <text x="4" y="8">{{ top }} %</text>
      <text x="0" :y="PLOT.h + 16">380 nm</text>
      <text :x="PLOT.w" :y="PLOT.h + 16" text-anchor="end">730 nm</text>
    </svg>
  </section>
</template>

<style scoped>
.own {
  display: grid;
  gap: 3px;
  font-size: 15px;
}
h3 {
  margin: 12px 0 5px;
  font-size: 15px;
}
.near {
  display: grid;
  grid-template-columns: 92px 1fr;
  gap: 10px;
  align-items: center;
  margin-bottom: 4px;
  font-size: 16px;
  line-height: 1.2;
}
.near small {
  font-size: 14px;
  color: var(--text-soft);
}
.touching {
  display: flex;
  height: 38px;
}
.touching i {
  flex: 1;
}
.lamp {
  gap: 3px;
  padding: 4px;
}
.lamp .big {
  flex: 2;
}
.note {
  margin: 4px 0;
  padding-left: 10px;
  border-left: 3px double var(--text);
  font-size: 15px;
  line-height: 1.3;
}
dl {
  display: grid;
  grid-template-columns: 76px 1fr;
  margin: 0;
  font-size: 16px;
  font-variant-numeric: tabular-nums;
  white-space: pre;
}
dt {
  color: var(--text-soft);
}
dd {
  margin: 0;
  white-space: pre-wrap;
}
.plot {
  display: block;
  width: 100%;
  margin-top: 6px;
}
.axis {
  fill: none;
  stroke: var(--line);
}
.curve {
  fill: none;
  stroke: var(--text);
  stroke-width: 2;
}
.plot text {
  fill: var(--text-soft);
  font: 400 13px/1 var(--body);
}
</style>

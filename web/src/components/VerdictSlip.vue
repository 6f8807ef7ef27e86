<script setup lang="ts">
/** The slip beside the card: what the crossing is, how sure, and why. */
import { computed } from 'vue'

import type { CrossingPair } from '../api'
import { kindSaid, waySaid } from '../words'
import MudGlass from './MudGlass.vue'

const { pair, names, closeness, mudLine, pointed } = defineProps<{
  pair: CrossingPair
  names: readonly string[]
  closeness: string
  mudLine: number
  pointed: boolean
}>()
const emit = defineEmits<{ point: [on: boolean] }>()

const verdict = computed(() => pair.result.verdict)
// The words beside the chip already say what is left.
const reasons = computed(() => verdict.value.reasons.filter((reason) => reason.code !== 'near_mud'))
const chance = computed(() => {
  // To the nearest 5 %: the margin itself is not known more closely.
  const percent = Math.round(verdict.value.mud_chance * 20) * 5
  if (percent < 5) return 'hardly any chance of mud'
  if (percent > 95) return 'mud, almost surely'
  return `about ${percent} % chance of mud`
})
</script>

<template>
  <article
    class="slip"
    :class="{ pointed }"
    :aria-label="`${names[pair.above]} over ${names[pair.below]}`"
    @mouseenter="emit('point', true)"
    @mouseleave="emit('point', false)"
  >
    <header>
      <MudGlass :mud="verdict.mud" :line="mudLine" :size="44" />
      <div>
        <p class="which">{{ names[pair.above] }} over {{ names[pair.below] }}</p>
        <p class="kind">{{ kindSaid[verdict.kind] }}</p>
      </div>
      <p class="mud"><b>{{ Math.round(verdict.mud) }}</b><span>mud of 100</span></p>
    </header>
    <p class="colour">
      <span class="chip" :style="{ backgroundColor: pair.result.colour.hex }"></span>
      <span><em>{{ pair.words }}</em><br />{{ closeness }}, ±{{ pair.result.margin.delta_e.toFixed(1) }} ΔE00</span>
    </p>
    <ul>
      <li v-for="reason in reasons" :key="reason.code">{{ reason.text }}</li>
    </ul>
    <p class="foot">
      {{ chance }}<template v-if="verdict.way">; {{ waySaid[verdict.way] }}</template>
    </p>
  </article>
</template>

<style scoped>
.slip {
  padding: 9px 14px 9px;
  border: 1px solid var(--line-soft);
  border-left: 6px solid var(--line-soft);
  background: var(--slip);
  /* Torn from a pad: the lower edge is not quite straight. */
  clip-path: polygon(0 0, 100% 0, 100% calc(100% - 3px), 82% 100%, 61% calc(100% - 3px), 38% 100%, 17% calc(100% - 2px), 0 100%);
}
.slip.pointed {
  border-left-color: var(--text);
}
header {
  display: grid;
  grid-template-columns: 44px 1fr auto;
  gap: 10px;
  align-items: center;
}
p {
  margin: 0;
}
.which {
  font-size: 15px;
  line-height: 1.2;
  color: var(--text-soft);
}
.kind {
  font: 600 25px/1.1 var(--colour-names);
}
.mud {
  text-align: right;
  font-size: 15px;
  line-height: 1.05;
}
.mud b {
  display: block;
  font-size: 24px;
  font-variant-numeric: tabular-nums;
}
.mud span {
  color: var(--text-soft);
}
.colour {
  display: grid;
  grid-template-columns: 44px 1fr;
  gap: 10px;
  align-items: center;
  margin: 6px 0 4px;
  font-size: 15px;
  line-height: 1.25;
}
.chip {
  height: 40px;
}
.colour em {
  font: 500 17px/1.2 var(--colour-names);
}
ul {
  margin: 0 0 4px;
  padding-left: 18px;
  font-size: 16px;
  line-height: 1.3;
}
li + li {
  margin-top: 3px;
}
.foot {
  font-size: 15px;
  color: var(--text-soft);
}
</style>

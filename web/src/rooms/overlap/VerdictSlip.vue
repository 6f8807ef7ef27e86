<script setup lang="ts">
/** The slip beside the card: what a colour is, how sure, and why; numbers on request. */
import { computed } from 'vue'

import type { Look } from '@/shared/api'
import MudGlass from '@/shared/MudGlass.vue'
import { verdictKindSaid, waySaid } from '../../generated/words'

const {
  look,
  name,
  mudLine,
  plain = false,
} = defineProps<{
  look: Look
  name: string
  mudLine: number
  /** Of a card or an ink alone no verdict is wanted beyond its reasons. */
  plain?: boolean
}>()

// The words beside the chip already say what is left.
const reasons = computed(() => look.verdict.reasons.filter((reason) => reason.code !== 'near_mud'))
</script>

<template>
  <article class="slip" :aria-label="name">
    <header>
      <MudGlass :mud="look.verdict.mud" :line="mudLine" :size="44" />
      <div>
        <p class="which">{{ name }}</p>
        <p class="kind">{{ verdictKindSaid[look.verdict.kind] }}</p>
      </div>
      <p class="mud">
        <b>{{ Math.round(look.verdict.mud) }}</b><span>mud, 0 to 100</span>
      </p>
    </header>
    <p class="colour">
      <span class="chip" :style="{ backgroundColor: look.colour.hex }"></span>
      <span
        ><em>{{ look.words }}</em
        ><br />{{ look.closeness }}</span
      >
    </p>
    <ul v-if="reasons.length">
      <li v-for="reason in reasons" :key="reason.text">{{ reason.text }}</li>
    </ul>
    <p v-if="!plain" class="foot">
      {{ look.chance }}<template v-if="look.verdict.way">; {{ waySaid[look.verdict.way] }}</template>
    </p>
  </article>
</template>

<style scoped>
.slip {
  flex: none;
  padding: 9px 14px 9px;
  border: 1px solid var(--line-soft);
  border-left: 6px solid var(--line-soft);
  background: var(--slip);
  /* Torn from a pad: the lower edge is not quite straight. */
  clip-path: polygon(
    0 0,
    100% 0,
    100% calc(100% - 3px),
    82% 100%,
    61% calc(100% - 3px),
    38% 100%,
    17% calc(100% - 2px),
    0 100%
  );
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

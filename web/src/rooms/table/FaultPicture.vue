<script setup lang="ts">
/** What a fault looks like, drawn in the colour that lies there. */
import { type Fault, WHITE_CARD } from '../../generated/words'

defineProps<{ fault: Fault; hex: string }>()
</script>

<template>
  <svg viewBox="0 0 120 84" class="fault" aria-hidden="true">
    <rect width="120" height="84" class="card" />
    <g v-if="fault === 'patchy'">
      <rect x="8" y="8" width="104" height="68" :fill="hex" opacity=".72" />
      <ellipse cx="34" cy="30" rx="20" ry="13" :fill="hex" />
      <ellipse cx="84" cy="54" rx="22" ry="15" :fill="hex" />
      <ellipse cx="82" cy="24" rx="11" ry="8" :fill="hex" opacity=".9" />
    </g>
    <g v-else-if="fault === 'streaks'">
      <rect x="8" y="8" width="104" height="68" :fill="hex" opacity=".7" />
      <path
        v-for="n in 6"
        :key="n"
        :d="`M8 ${8 + n * 9.5}q30 ${n % 2 ? 5 : -5} 52 0t52 ${n % 2 ? -2 : 3}`"
        :stroke="hex"
        stroke-width="3.5"
        fill="none"
      />
    </g>
    <g v-else-if="fault === 'foam_edge'">
      <rect x="8" y="8" width="104" height="68" :fill="hex" opacity=".66" />
      <path
        d="M34 76A34 34 0 0 1 88 30M14 44A26 26 0 0 1 52 14"
        :stroke="hex"
        stroke-width="6"
        fill="none"
        stroke-linecap="round"
      />
    </g>
    <g v-else-if="fault === 'white_spot'">
      <rect x="8" y="8" width="104" height="68" :fill="hex" />
      <ellipse cx="66" cy="44" rx="15" ry="19" class="card" />
      <path
        d="M56 38q10-8 20 0M55 45q11-8 22 0M57 52q9-7 18 0"
        :stroke="hex"
        stroke-width="1.6"
        fill="none"
        opacity=".6"
      />
    </g>
    <g v-else-if="fault === 'line'">
      <rect x="8" y="8" width="52" height="68" :fill="hex" opacity=".5" />
      <rect x="60" y="8" width="52" height="68" :fill="hex" />
      <rect x="58.5" y="8" width="3" height="68" class="dark" />
    </g>
    <g v-else-if="fault === 'mud'">
      <rect x="8" y="8" width="40" height="68" :fill="hex" opacity=".55" />
      <rect x="72" y="8" width="40" height="68" :fill="hex" />
      <rect x="40" y="8" width="40" height="68" class="mud" />
    </g>
    <g v-else-if="fault === 'too_dark'">
      <rect x="8" y="8" width="104" height="68" :fill="hex" />
      <rect x="8" y="8" width="104" height="68" class="dark" opacity=".45" />
    </g>
    <g v-else-if="fault === 'too_pale'"><rect x="8" y="8" width="104" height="68" :fill="hex" opacity=".38" /></g>
    <g v-else>
      <rect x="8" y="8" width="104" height="68" :fill="hex" />
      <path d="M30 42h48m-13-12 13 12-13 12" class="arrow" fill="none" />
    </g>
  </svg>
</template>

<style scoped>
.fault {
  display: block;
  width: 100%;
}
.card {
  fill: v-bind(WHITE_CARD);
}
.dark {
  fill: #171717;
}
.mud {
  fill: #6b5f4d;
}
.arrow {
  stroke: #171717;
  stroke-width: 5;
}
</style>

<script setup lang="ts">
/** The steps of an evening, one under the other: when, on what, what to do; what dries by itself stands aside. */
import type { TableStep } from '@/shared/api'
import { spanSaid } from './useTable'

defineProps<{ steps: TableStep[] }>()

const clock = (minutes: number): string =>
  `${Math.floor(minutes / 60)}:${String(Math.floor(minutes % 60)).padStart(2, '0')}`
</script>

<template>
  <ol class="steps" aria-label="Steps">
    <li v-for="step in steps" :key="step.n" :class="{ waits: !step.hands }">
      <span class="when">{{ clock(step.start) }}</span>
      <span class="inks" aria-hidden="true"
        ><i
          v-for="(ink, n) in step.do === 'open_pads' || step.do === 'close_pads' ? [] : step.inks"
          :key="n"
          :style="{ background: ink.hex }"
      /></span>
      <span class="what">
        {{ step.text }}
        <small
          ><b>{{ step.of }}</b
          >, {{ step.hands ? '' : 'no hands, ' }}{{ spanSaid(step.minutes)
          }}{{ step.why ? `. ${step.why}` : '' }}</small
        >
      </span>
    </li>
  </ol>
</template>

<style scoped>
.steps {
  max-width: 900px;
  margin: 12px 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 48px 20px minmax(0, 1fr);
  gap: 10px;
  padding: 7px 0;
  border-top: 1px solid var(--line-soft);
}
.waits {
  color: var(--text-soft);
  font-style: italic;
}
.when {
  font-variant-numeric: tabular-nums;
  font-weight: 600;
}
.inks {
  display: grid;
  gap: 2px;
  align-content: start;
  padding-top: 3px;
}
.inks i {
  height: 16px;
}
small {
  display: block;
  font-size: 14px;
  color: var(--text-soft);
}
</style>

<script setup lang="ts">
/** Nudges: the smallest further lay-down, or change, that takes the colour a little way. */
import { computed } from 'vue'

import type { Advice, Look, Nudge, StackChange } from '@/shared/api'

const { advice, full, names, laid } = defineProps<{
  advice: Advice | null
  full: Look
  names: readonly string[]
  laid: number
}>()
const emit = defineEmits<{ apply: [change: StackChange, what: string] }>()

const ways = computed(() => advice?.nudges.filter((nudge) => nudge.entry === null) ?? [])
const amounts = computed(() => advice?.nudges.filter((nudge) => nudge.entry !== null) ?? [])
const title = (nudge: Nudge): string => (nudge.entry === null ? nudge.code : `${nudge.code} ${names[nudge.entry ?? 0]}`)
</script>

<template>
  <section aria-label="Nudges">
    <p class="quiet">
      {{
        laid
          ? 'What is on the card already stays; this can still be laid over it.'
          : 'Nothing is on the card yet, so the plan itself may change.'
      }}
    </p>
    <p v-if="!advice" class="quiet" role="status">Looking through the shelf …</p>
    <ul v-else>
      <li v-for="nudge in [...ways, ...amounts]" :key="`${nudge.code}${nudge.entry}`">
        <button
          v-if="nudge.change && nudge.after"
          type="button"
          :aria-label="`${title(nudge)}: ${nudge.text}`"
          @click="emit('apply', nudge.change, `A little ${title(nudge)}`)"
        >
          <span class="pair" aria-hidden="true">
            <i :style="{ backgroundColor: full.colour.hex }"></i
            ><i :style="{ backgroundColor: nudge.after.colour.hex }"></i>
          </span>
          <span
            ><b>{{ title(nudge) }}</b
            ><br />{{ nudge.text }}</span
          >
        </button>
        <p v-else class="none">
          <b>{{ title(nudge) }}</b> {{ nudge.text }}
        </p>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
button {
  display: grid;
  grid-template-columns: 52px 1fr;
  gap: 10px;
  align-items: center;
  width: 100%;
  min-height: 48px;
  padding: 4px 6px 4px 0;
  border: 0;
  border-top: 1px solid var(--line-soft);
  background: none;
  font-size: 16px;
  line-height: 1.2;
  text-align: left;
  cursor: pointer;
}
button:hover {
  background: var(--raised);
}
.pair {
  display: flex;
  height: 38px;
}
.pair i {
  flex: 1;
}
b {
  font: 600 17px/1.2 var(--colour-names);
}
.none {
  margin: 0;
  padding: 5px 0;
  border-top: 1px solid var(--line-soft);
  font-size: 15px;
  line-height: 1.25;
  color: var(--text-soft);
}
.quiet {
  margin: 0;
  padding: 4px 0 6px;
  font-size: 15px;
  line-height: 1.25;
  color: var(--text-soft);
}
</style>

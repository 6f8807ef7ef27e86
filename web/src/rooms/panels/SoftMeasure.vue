<script setup lang="ts">
/** How softly neighbours blend: from stripes through short seams to soft, with what it costs. */
import { computed, ref, watch } from 'vue'

import type { PanelStudy } from '@/shared/api'

const { soft, ways, label } = defineProps<{
  /** 0 stripes, 1 soft. */
  soft: number
  ways: PanelStudy['ways']
  label: string
}>()
const emit = defineEmits<{ change: [soft: number] }>()

// While it is dragged only the words follow.
const now = ref(soft)
watch(
  () => soft,
  (next) => (now.value = next),
)
const nearest = computed(() => [...ways].sort((a, b) => Math.abs(a.soft - now.value) - Math.abs(b.soft - now.value))[0])
const said = computed(() => {
  if (!nearest.value) return ''
  if (Math.abs(nearest.value.soft - now.value) < 0.04) return nearest.value.words
  const below = ways.filter((way) => way.soft < now.value).at(-1)
  const above = ways.find((way) => way.soft > now.value)
  return [below, above].flatMap((way) => (way ? [way.words] : [])).join(' to ')
})
const cost = computed(() =>
  nearest.value ? `${Math.max(1, Math.round(nearest.value.minutes))} min, ${nearest.value.passes} passes` : '',
)
</script>

<template>
  <label class="measure" :title="cost">
    <svg viewBox="0 0 24 20" width="26" height="22" aria-hidden="true">
      <path d="M2 3h7v14H2zM15 3h7v14h-7z" />
      <path v-if="now < 0.05" d="M9 3h6v14H9z" class="bare" />
      <path v-else :d="`M${12 - 9 * now} 17L${12 + 9 * now} 3M${12 - 9 * now} 3L${12 + 9 * now} 17`" />
    </svg>
    <input
      v-model.number="now"
      type="range"
      min="0"
      max="1"
      step="0.05"
      :aria-label="label"
      :aria-valuetext="`${said}; ${cost}`"
      @change="emit('change', now)"
    />
    <span
      ><b>{{ said }}</b
      ><small>{{ cost }}</small></span
    >
  </label>
</template>

<style scoped>
.measure {
  display: flex;
  gap: 8px;
  align-items: center;
}
svg {
  fill: none;
  stroke: var(--text);
  stroke-width: 1.5;
}
input {
  width: 104px;
  height: 40px;
  accent-color: var(--text);
}
span {
  display: grid;
  width: 122px;
}
b {
  font: 600 16px/1.15 var(--colour-names);
}
small {
  font-size: 14px;
  line-height: 1.2;
  color: var(--text-soft);
}
</style>

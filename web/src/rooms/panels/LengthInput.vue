<script setup lang="ts">
/** A length typed as people write it, in the panel's unit unless another is said; empty leaves it to Wempa. */
import { ElInput } from 'element-plus'
import { ref, watch } from 'vue'

import { useTrouble } from '@/shared/trouble'
import { number, toMm, type Unit } from '@/shared/units'

const {
  mm,
  unit,
  auto = null,
} = defineProps<{
  mm: number | null | undefined
  unit: Unit
  /** What it is when nothing is typed; null where something has to be. */
  auto?: number | null
}>()
const emit = defineEmits<{ typed: [mm: number | null] }>()
const { trouble } = useTrouble()
const shown = (): string => (mm === null || mm === undefined ? '' : number(mm, unit))
const text = ref(shown())
watch(
  () => [mm, unit],
  () => (text.value = shown()),
)

function leave(event: Event): void {
  text.value = shown()
  ;(event.target as HTMLElement).blur()
}
function read(now: string): void {
  if (!now.trim() && auto !== null) {
    emit('typed', null)
    return
  }
  const found = toMm(now, unit)
  if (found === null) {
    trouble.value = `“${now}” is no length; write it like 108, 4 1/4 in or 10.8 cm.`
    text.value = shown()
  } else emit('typed', Math.round(found * 1000) / 1000)
}
</script>

<template>
  <ElInput
    v-model="text"
    class="length"
    :placeholder="auto === null ? '' : number(auto, unit)"
    @change="read"
    @keydown.stop
    @keydown.esc="leave"
  >
    <template #suffix>{{ unit }}</template>
  </ElInput>
</template>

<style scoped>
.length :deep(.el-input__wrapper) {
  padding-inline: 8px;
}
.length {
  width: 86px;
}
</style>

<script setup lang="ts">
/**
 * A label on the thing it names. `plain` for a choice whose list opens inside the label:
 * there a click on the list would count as one on the label and open it again.
 */
const { label, hint = '', plain = false } = defineProps<{ label: string; hint?: string; plain?: boolean }>()
</script>

<template>
  <component :is="plain ? 'div' : 'label'" class="field">
    <span class="label">{{ label }}</span>
    <slot />
    <span v-if="hint" class="hint">{{ hint }}</span>
  </component>
</template>

<style scoped>
.field {
  display: grid;
  gap: 2px;
  min-width: 0;
}
.label {
  font-size: 15px;
  color: var(--text-soft);
}
.hint {
  font-size: 14px;
  line-height: 1.25;
  color: var(--text-soft);
}
.field :deep(.el-select__wrapper),
.field :deep(.el-input__wrapper) {
  min-height: 40px;
  font-size: 16px;
}
</style>

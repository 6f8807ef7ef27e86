<script setup lang="ts">
/** One lay-down: which ink, with what, how often, and over wet or dry. */
import { ElInputNumber, ElSelect } from 'element-plus'
import { computed } from 'vue'

import type { Entry, StashInk } from '../api'
import { loadWords, MAX_PASSES, toolWords, type Load, type Tool } from '../generated/words'
import { formulaSaid, loadSaid, toolSaid } from '../words'

const { entry, ink, order, active } = defineProps<{
  entry: Entry
  ink: StashInk
  order: 'first' | 'second'
  active: boolean
}>()
const emit = defineEmits<{ change: [edit: Partial<Entry>]; activate: [] }>()

const title = computed(() => (order === 'first' ? 'Laid first' : 'Laid second'))
const tools = toolWords.map((value) => ({ value, label: toolSaid[value] }))
const loads = loadWords.map((value) => ({ value, label: loadSaid[value] }))
</script>

<template>
  <section class="layer" :class="{ active }" :aria-label="`${title}: ${ink.name}`">
    <div class="head">
      <button type="button" class="which" :aria-pressed="active" @click="emit('activate')">
        <span class="felt" :style="{ backgroundColor: ink.hex }"></span>
        <span class="title">{{ title }}</span>
        <span class="name">{{ ink.name }} <small>{{ formulaSaid[ink.formula] }}</small></span>
      </button>
    </div>
    <div class="how">
      <ElSelect
        :model-value="entry.tool ?? 'pad'"
        :options="tools"
        class="tool"
        :aria-label="`Tool for ${ink.name}`"
        @update:model-value="(tool: Tool) => emit('change', { tool })"
      />
      <ElInputNumber
        :model-value="entry.passes ?? 1"
        :min="1"
        :max="MAX_PASSES"
        :step="1"
        step-strictly
        class="passes"
        :aria-label="`Passes of ${ink.name}`"
        @update:model-value="(passes: number | undefined) => passes && emit('change', { passes })"
      />
      <ElSelect
        :model-value="entry.load ?? ink.load"
        :options="loads"
        class="load"
        :aria-label="`Load for ${ink.name}`"
        @update:model-value="(load: Load) => emit('change', { load })"
      />
    </div>
  </section>
</template>

<style scoped>
.layer {
  flex: 1;
  min-width: 0;
}
.which {
  display: grid;
  grid-template-columns: 46px 1fr;
  grid-template-areas: 'felt title' 'felt name';
  column-gap: 10px;
  width: 100%;
  padding: 4px 6px;
  border: 1px solid transparent;
  border-radius: 5px;
  background: none;
  text-align: left;
  cursor: pointer;
}
.which:hover {
  border-color: var(--line);
}
.active .which {
  border-color: var(--text);
  background: var(--raised);
}
.felt {
  grid-area: felt;
  align-self: center;
  height: 38px;
  border: 3px solid #1c1c1c;
  border-radius: 4px;
}
.title {
  grid-area: title;
  font-size: 15px;
  line-height: 1.15;
  color: var(--text-soft);
}
.name {
  grid-area: name;
  font: 600 20px/1.15 var(--colour-names);
}
.name small {
  font: 400 15px/1 var(--body);
  color: var(--text-soft);
  white-space: nowrap;
}
.how {
  display: grid;
  grid-template-columns: 1fr 96px 1fr;
  gap: 5px;
  margin-top: 5px;
}
.passes {
  width: 96px;
}
.how :deep(.el-input-number__decrease),
.how :deep(.el-input-number__increase) {
  width: 28px;
}
.how :deep(.el-input__wrapper) {
  padding-inline: 30px;
}
.how :deep(.el-select__wrapper) {
  min-height: 40px;
  padding-inline: 9px;
  font-size: 16px;
}
@media (max-width: 1150px) {
  .how {
    grid-template-columns: 1fr 1fr;
  }
  .passes {
    width: 100%;
  }
  .tool {
    grid-column: span 2;
  }
}
</style>

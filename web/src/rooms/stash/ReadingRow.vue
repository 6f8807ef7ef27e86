<script setup lang="ts">
/** One swatch as it was read: its colour, what it is called, how sure it is. */
import { ElButton, ElInput, ElSelect } from 'element-plus'

import type { Reading } from '@/shared/api'
import { choices } from '@/shared/choices'
import { type Formula, formulaSaid, formulaWords } from '../../generated/words'

defineProps<{ number: number; one: boolean; reading: Reading | undefined; shelved: boolean }>()
const name = defineModel<string>('name', { required: true })
const formula = defineModel<Formula>('formula', { required: true })
const emit = defineEmits<{ change: []; take: []; out: [] }>()
</script>

<template>
  <li>
    <span class="dab" :style="{ backgroundColor: reading?.hex }"></span>
    <div class="what">
      <b v-if="one">{{ reading?.words }}</b>
      <template v-else>
        <ElInput
          v-model="name"
          list="shelved"
          :aria-label="`Name of swatch ${number}`"
          :placeholder="`Swatch ${number}: a name, or leave it out`"
          @change="emit('change')"
        />
        <ElSelect
          v-model="formula"
          :options="choices(formulaWords, formulaSaid)"
          :teleported="false"
          :aria-label="`Formula of swatch ${number}`"
          @change="emit('change')"
        />
      </template>
      <small>
        <template v-if="shelved">On the shelf already; </template>{{ reading?.sure
        }}<template v-for="note in reading?.notes" :key="note.code">. {{ note.text }}</template>
      </small>
    </div>
    <ElButton v-if="one && reading" type="primary" @click="emit('take')">Use this</ElButton>
    <button v-else type="button" class="out" :aria-label="`Leave swatch ${number} out`" @click="emit('out')">×</button>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 58px 1fr auto;
  gap: 10px;
  align-items: center;
}
.dab {
  height: 46px;
  border-radius: 2px;
}
.what {
  display: grid;
  grid-template-columns: 1fr 150px;
  gap: 2px 6px;
}
.what :deep(.el-select__wrapper) {
  min-height: 40px;
  font-size: 16px;
}
.what b,
.what small {
  grid-column: span 2;
}
.what small {
  font-size: 14px;
  color: var(--text-soft);
}
.out {
  width: 40px;
  height: 40px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  font-size: 20px;
  cursor: pointer;
}
.out:hover {
  border-color: var(--line);
}
@media (max-width: 1100px) {
  .what {
    grid-template-columns: 1fr;
  }
  .what b,
  .what small {
    grid-column: auto;
  }
}
</style>

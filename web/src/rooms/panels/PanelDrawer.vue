<script setup lang="ts">
/** The panels kept: open, copy, compare or discard one, begin another. */
import { onMounted } from 'vue'

import { usePanel } from './usePanel'
import KeptSheet from '@/shared/KeptSheet.vue'

const emit = defineEmits<{ close: []; compare: [id: number] }>()
const { panels, panel, fetchPanels, open, copy, discard, begin } = usePanel()
onMounted(fetchPanels)

async function go(work: Promise<boolean>): Promise<void> {
  if (await work) emit('close')
}
</script>

<template>
  <KeptSheet title="Panels" kind="panel" :kept="panels" :now="panel" @close="emit('close')" @begin="go(begin())" @copy="(id) => go(copy(id))" @open="(id) => go(open(id))" @compare="(id) => emit('compare', id)" @discard="discard">
    <template #picture="{ of }">
      <span class="card" :style="{ backgroundColor: of.card }"><i v-for="(hex, n) in of.shown" :key="n" :style="{ backgroundColor: hex }"></i></span>
    </template>
    <template #told="{ of }">
      <p>{{ of.size }}</p>
    </template>
  </KeptSheet>
</template>

<style scoped>
.card {
  display: flex;
  flex-direction: column;
  padding: 6px 12px;
}
.card i {
  flex: 1;
}
</style>

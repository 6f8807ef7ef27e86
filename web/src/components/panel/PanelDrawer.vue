<script setup lang="ts">
/** The panels kept: open, copy, compare or discard one, begin another. */
import { ElButton } from 'element-plus'
import { onMounted } from 'vue'

import { usePanel } from '../../composables/usePanel'
import SheetDialog from '../SheetDialog.vue'

const emit = defineEmits<{ close: []; compare: [id: number] }>()
const { panels, panel, fetchPanels, open, copy, discard, begin } = usePanel()
onMounted(fetchPanels)

async function go(work: Promise<boolean>): Promise<void> {
  if (await work) emit('close')
}
</script>

<template>
  <SheetDialog title="Panels" @close="emit('close')">
    <p class="begin">
      <ElButton size="large" @click="go(begin())">Begin another</ElButton>
      <ElButton v-if="panel" size="large" @click="go(copy(panel.id))">Copy “{{ panel.name }}”</ElButton>
    </p>
    <ul>
      <li v-for="each in panels" :key="each.id" :class="{ open: each.id === panel?.id }">
        <button type="button" class="card" :style="{ backgroundColor: each.card }" :aria-label="`Open ${each.name}`" @click="go(open(each.id))">
          <i v-for="(hex, n) in each.shown" :key="n" :style="{ backgroundColor: hex }"></i>
        </button>
        <div>
          <b>{{ each.name }}</b>
          <p>{{ each.size }}<template v-if="each.id === panel?.id">, open now</template></p>
          <p v-if="each.trouble">{{ each.trouble }}</p>
        </div>
        <span class="acts">
          <button type="button" class="word" :disabled="each.id === panel?.id" @click="go(open(each.id))">Open</button>
          <button type="button" class="word" :disabled="each.id === panel?.id" @click="emit('compare', each.id)">Compare</button>
          <button type="button" class="word" :aria-label="`Discard ${each.name}`" @click="discard(each.id)">Discard</button>
        </span>
      </li>
    </ul>
  </SheetDialog>
</template>

<style scoped>
.begin {
  margin: 0 0 12px;
}
ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(430px, 1fr));
  gap: 10px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 96px 1fr auto;
  gap: 12px;
  align-items: center;
  padding: 8px;
  border: 1px solid var(--line-soft);
}
li.open {
  border-color: var(--text);
}
.card {
  display: flex;
  flex-direction: column;
  height: 84px;
  padding: 6px 12px;
  border: 0;
  cursor: pointer;
}
.card i {
  flex: 1;
}
b {
  font: 600 19px/1.2 var(--colour-names);
}
p {
  margin: 0;
  font-size: 16px;
  line-height: 1.3;
}
.acts {
  display: grid;
}
.word {
  min-height: 34px;
  padding: 0 10px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  font-size: 16px;
  cursor: pointer;
}
.word:hover:not(:disabled) {
  border-color: var(--line);
}
.word:disabled {
  opacity: 0.45;
}
</style>

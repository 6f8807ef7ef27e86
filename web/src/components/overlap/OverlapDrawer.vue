<script setup lang="ts">
/** The overlaps kept: open, copy, compare or discard one, begin another. */
import { ElButton } from 'element-plus'
import { onMounted } from 'vue'

import { useDesk } from '../../composables/useDesk'
import { kindSaid } from '../../words'
import MudGlass from '../MudGlass.vue'
import SheetDialog from '../SheetDialog.vue'

const { mudLine } = defineProps<{ mudLine: number }>()
const emit = defineEmits<{ close: []; compare: [id: number] }>()
const { overlaps, overlap, fetchOverlaps, open, copy, discard, begin } = useDesk()

onMounted(fetchOverlaps)

async function go(work: Promise<boolean>): Promise<void> {
  if (await work) emit('close')
}
</script>

<template>
  <SheetDialog title="Overlaps" @close="emit('close')">
    <p class="begin">
      <ElButton size="large" @click="go(begin())">Begin another</ElButton>
      <ElButton v-if="overlap" size="large" @click="go(copy(overlap.id))">Copy “{{ overlap.name }}”</ElButton>
    </p>
    <ul>
      <li v-for="each in overlaps" :key="each.id" :class="{ open: each.id === overlap?.id }">
        <button type="button" class="card" :style="{ backgroundColor: each.card }" :aria-label="`Open ${each.name}`" @click="go(open(each.id))">
          <i :style="{ backgroundColor: each.hex }"></i>
        </button>
        <div>
          <b>{{ each.name }}</b>
          <p>
            <MudGlass :mud="each.mud" :line="mudLine" :size="18" /> {{ kindSaid[each.kind] }}, {{ each.words
            }}<template v-if="each.colour_name">: “{{ each.colour_name }}”</template>
          </p>
          <p v-if="each.id === overlap?.id" class="soft">open now</p>
        </div>
        <span class="acts">
          <button type="button" class="word" :disabled="each.id === overlap?.id" @click="go(open(each.id))">Open</button>
          <button type="button" class="word" :disabled="each.id === overlap?.id" @click="emit('compare', each.id)">Compare</button>
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
  height: 74px;
  padding: 14px 22px;
  border: 0;
  cursor: pointer;
}
.card i {
  display: block;
  height: 100%;
}
b {
  font: 600 19px/1.2 var(--colour-names);
}
p {
  margin: 0;
  font-size: 16px;
  line-height: 1.3;
}
p svg {
  vertical-align: -4px;
}
.soft {
  color: var(--text-soft);
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

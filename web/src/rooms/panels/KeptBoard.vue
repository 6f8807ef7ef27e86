<script setup lang="ts">
/** The panels kept, painted small: open, copy, compare or discard one, begin another. */
import { ElButton } from 'element-plus'
import { onMounted, ref } from 'vue'

import { usePanel } from './usePanel'

const emit = defineEmits<{ compare: [id: number] }>()
const { panels, panel, fetchPanels, open, copy, discard, begin, ofPalette } = usePanel()
const picker = ref<HTMLInputElement | null>(null)
async function taken(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (file) await ofPalette(file)
  input.value = ''
}
onMounted(fetchPanels)
</script>

<template>
  <section aria-label="Panels kept">
    <p class="begin">
      <ElButton size="large" @click="begin">Begin another</ElButton>
      <ElButton v-if="panel" size="large" @click="copy(panel.id)">Copy this one</ElButton>
      <ElButton
        size="large"
        title="JSON, GPL, CSS or CSV: each colour by the ink of yours that comes nearest"
        @click="picker?.click()"
        >From a palette file</ElButton
      >
      <input ref="picker" type="file" accept=".json,.gpl,.css,.csv" hidden aria-label="Palette file" @change="taken" />
    </p>
    <ul>
      <li v-for="each in panels" :key="each.id" :class="{ open: each.id === panel?.id }">
        <span v-if="each.trouble || !each.shown.length" class="none" aria-hidden="true">{{
          each.trouble ? '?' : ''
        }}</span>
        <button v-else type="button" class="small" :aria-label="`Open ${each.name}`" @click="open(each.id)">
          <img
            :src="`/api/panels/${each.id}/small.png?high=152&revision=${each.revision}`"
            alt=""
            height="76"
            loading="lazy"
          />
        </button>
        <div>
          <b>{{ each.name }}</b>
          <p v-if="each.trouble">Cannot be read: {{ each.trouble }}</p>
          <p v-else>{{ each.size }}<template v-if="each.id === panel?.id">, open now</template></p>
          <span class="acts">
            <a
              v-if="each.trouble"
              class="word"
              :href="`/api/export/panel/${each.id}.json`"
              :aria-label="`Give out ${each.name}`"
              download
              >Give out</a
            >
            <template v-else>
              <button type="button" class="word" :disabled="each.id === panel?.id" @click="open(each.id)">Open</button>
              <button type="button" class="word" :disabled="each.id === panel?.id" @click="emit('compare', each.id)">
                Compare
              </button>
            </template>
            <button type="button" class="word" :aria-label="`Discard ${each.name}`" @click="discard(each.id)">
              Discard
            </button>
          </span>
        </div>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.begin {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 6px 0;
}
.begin :deep(.el-button) {
  margin: 0;
}
ul {
  display: grid;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 92px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  padding: 7px 0;
  border-bottom: 1px solid var(--line-soft);
}
li.open {
  padding-left: 6px;
  border-left: 4px solid var(--text);
}
.small,
.none {
  display: grid;
  place-content: center;
  min-height: 80px;
  padding: 2px;
  border: 0;
  background: var(--table);
  cursor: pointer;
}
.none {
  border: 2px dashed var(--line);
  font: 600 30px/1 var(--colour-names);
  cursor: default;
}
img {
  display: block;
  max-width: 88px;
  max-height: 76px;
  object-fit: contain;
}
b {
  font: 600 17px/1.15 var(--colour-names);
}
p {
  margin: 0;
  font-size: 15px;
  line-height: 1.3;
}
.acts {
  display: flex;
  flex-wrap: wrap;
}
.acts .word {
  padding: 0 8px 0 0;
  font-size: 15px;
}
</style>

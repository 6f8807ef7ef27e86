<script setup lang="ts" generic="T extends { id: number; name: string; trouble?: string }">
/** What is kept of one kind: open, copy, compare or discard one, begin another. */
import { ElButton } from 'element-plus'

import SheetDialog from './SheetDialog.vue'

const { title, kind, kept, now } = defineProps<{
  title: string
  /** What the service calls one of them. */
  kind: 'overlap' | 'panel'
  kept: readonly T[]
  /** The one that is open. */
  now: { id: number; name: string } | null
}>()
const emit = defineEmits<{
  close: []
  begin: []
  copy: [id: number]
  open: [id: number]
  compare: [id: number]
  discard: [id: number]
}>()
defineSlots<{
  /** How one looks, inside the button that opens it. */
  picture(props: { of: T }): unknown
  /** What is told of one. */
  told(props: { of: T }): unknown
}>()
</script>

<template>
  <SheetDialog :title="title" @close="emit('close')">
    <p class="begin">
      <ElButton size="large" @click="emit('begin')">Begin another</ElButton>
      <ElButton v-if="now" size="large" @click="emit('copy', now.id)">Copy “{{ now.name }}”</ElButton>
    </p>
    <ul>
      <li v-for="each in kept" :key="each.id" :class="{ open: each.id === now?.id }">
        <span v-if="each.trouble" class="card none" aria-hidden="true">?</span>
        <button v-else type="button" class="card" :aria-label="`Open ${each.name}`" @click="emit('open', each.id)">
          <slot name="picture" :of="each" />
        </button>
        <div>
          <b>{{ each.name }}</b>
          <p v-if="each.trouble">Cannot be read: {{ each.trouble }}</p>
          <slot v-else name="told" :of="each" />
          <p v-if="each.id === now?.id" class="soft">open now</p>
        </div>
        <span class="acts">
          <a
            v-if="each.trouble"
            class="word"
            :href="`/api/export/${kind}/${each.id}.json`"
            :aria-label="`Give out ${each.name}`"
            download
            >Give out</a
          >
          <template v-else>
            <button type="button" class="word" :disabled="each.id === now?.id" @click="emit('open', each.id)">
              Open
            </button>
            <button type="button" class="word" :disabled="each.id === now?.id" @click="emit('compare', each.id)">
              Compare
            </button>
          </template>
          <button type="button" class="word" :aria-label="`Discard ${each.name}`" @click="emit('discard', each.id)">
            Discard
          </button>
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
  display: grid;
  height: 80px;
  padding: 0;
  border: 0;
  background: none;
  cursor: pointer;
}
.none {
  align-content: center;
  justify-content: center;
  border: 2px dashed var(--line);
  font: 600 30px/1 var(--colour-names);
  cursor: default;
}
b {
  font: 600 19px/1.2 var(--colour-names);
}
p,
li :slotted(p) {
  margin: 0;
  font-size: 16px;
  line-height: 1.3;
}
.soft {
  color: var(--text-soft);
}
.acts {
  display: grid;
}
</style>

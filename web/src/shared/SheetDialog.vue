<script setup lang="ts">
/** A large sheet over the page: the browser's own dialog, so that focus stays in it and Escape closes it. */
import { onBeforeUnmount, onMounted, ref } from 'vue'

import { useTrouble } from './trouble'

/** `fit`: no larger than what it holds. */
const { title, fit = false } = defineProps<{ title: string; fit?: boolean }>()
const emit = defineEmits<{ close: [] }>()
const dialog = ref<HTMLDialogElement | null>(null)

// What is refused is told on the sheet: the page lies behind it.
const { trouble, sheets } = useTrouble()

onMounted(() => {
  sheets.value += 1
  dialog.value?.showModal()
})
onBeforeUnmount(() => (sheets.value -= 1))
</script>

<template>
  <dialog ref="dialog" class="board" :class="{ fit }" :aria-label="title" @close="emit('close')">
    <header>
      <h2>{{ title }}</h2>
      <button type="button" class="away" @click="dialog?.close()">Close</button>
    </header>
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
    <div class="inside"><slot /></div>
  </dialog>
</template>

<style scoped>
.board {
  flex-direction: column;
  width: min(1180px, calc(100vw - 40px));
  height: min(760px, calc(100vh - 28px));
  max-width: none;
  max-height: none;
  padding: 0;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--slip);
  color: var(--text);
  box-shadow: 0 8px 40px var(--shadow);
}
.board.fit {
  width: min(760px, calc(100vw - 40px));
  height: fit-content;
  max-height: calc(100vh - 28px);
}
.board[open] {
  display: flex;
}
.board::backdrop {
  background: rgb(0 0 0 / 45%);
}
header {
  display: flex;
  align-items: center;
  justify-content: space-between;
  padding: 6px 8px 6px 18px;
  border-bottom: 1px solid var(--line-soft);
}
h2 {
  margin: 0;
  font: 600 22px/1.2 var(--colour-names);
}
.away {
  min-height: 44px;
  padding: 0 14px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  cursor: pointer;
}
.away:hover {
  border-color: var(--line);
}
.trouble {
  margin: 10px 18px 0;
}
.inside {
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 14px 18px;
}
</style>

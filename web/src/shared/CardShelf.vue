<script setup lang="ts">
/** The cardstock at hand, as sheets one slips under the inks. */
import type { StashCard } from './api'
import { surfaceSaid } from '../generated/words'

const { cards, chosen } = defineProps<{ cards: readonly StashCard[]; chosen: number | null }>()
const emit = defineEmits<{ choose: [card: StashCard] }>()

function walk(event: KeyboardEvent): void {
  const sheets = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('button')]
  const at = sheets.indexOf(document.activeElement as HTMLElement)
  const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
  if (at < 0 || by === undefined) return
  event.preventDefault()
  sheets[(at + by + sheets.length) % sheets.length]?.focus()
}
</script>

<template>
  <div class="shelf" role="group" aria-label="Cardstock" @keydown="walk">
    <button
      v-for="card in cards"
      :key="card.id"
      type="button"
      :aria-pressed="card.id === chosen"
      :title="`${card.words}, ${surfaceSaid[card.surface]}`"
      @click="emit('choose', card)"
    >
      <span
        class="sheet"
        :style="{ backgroundColor: card.hex, color: (card.lab[0] ?? 100) > 55 ? '#1d1d1d' : '#f4f4f4' }"
        >{{ card.name }}</span
      >
    </button>
  </div>
</template>

<style scoped>
.shelf {
  display: flex;
  gap: 3px;
  overflow-x: auto;
  padding: 4px;
}
button {
  display: grid;
  flex: 1 0 78px;
  min-height: 48px;
  padding: 3px;
  border: 2px solid transparent;
  border-radius: 4px;
  background: none;
  font-size: 14px;
  line-height: 1.05;
  text-align: left;
  cursor: pointer;
}
button:hover {
  border-color: var(--line);
}
button[aria-pressed='true'] {
  border-color: var(--text);
  font-weight: 700;
}
.sheet {
  display: grid;
  align-content: center;
  padding: 2px 10px 2px 6px;
  /* A sheet with one corner cut, so that it reads as card and not as a pad. */
  clip-path: polygon(0 0, calc(100% - 9px) 0, 100% 9px, 100% 100%, 0 100%);
}
</style>

<script setup lang="ts">
/** A swatch of the book: what came of it and what was guessed, edge to edge, like a tag tied to a page. */
import type { Swatch } from '@/shared/api'
import { ownVerdictSaid } from '../../generated/words'

const { swatch, open } = defineProps<{ swatch: Swatch; open: boolean }>()
const emit = defineEmits<{ open: [] }>()
const last = () => swatch.sightings.at(-1)
</script>

<template>
  <button type="button" class="tag" :aria-pressed="open" @click="emit('open')">
    <span class="card" :style="{ backgroundColor: swatch.card }">
      <span v-if="last()" class="real" :style="{ backgroundColor: last()?.hex }"></span>
      <span v-else class="real waits">to be laid or photographed</span>
      <span v-if="last()?.predicted" class="guess" :style="{ backgroundColor: last()?.predicted ?? '' }"></span>
      <span v-else-if="last()" class="guess none"></span>
    </span>
    <span class="name">{{ swatch.item.favourite ? '♥ ' : '' }}{{ swatch.item.name }}</span>
    <span class="told">
      {{ last()?.differs || (last() ? last()?.words : swatch.card_name)
      }}<template v-if="swatch.item.verdict">, {{ ownVerdictSaid[swatch.item.verdict] }}</template>
    </span>
  </button>
</template>

<style scoped>
.tag {
  display: grid;
  align-content: start;
  gap: 2px;
  padding: 5px 5px 7px;
  border: 2px solid transparent;
  border-radius: 4px;
  background: var(--slip);
  text-align: left;
  cursor: pointer;
}
.tag:hover {
  border-color: var(--line);
}
.tag[aria-pressed='true'] {
  border-color: var(--text);
}
.card {
  display: grid;
  grid-template-columns: 3fr 2fr;
  height: 92px;
  padding: 10px;
  /* A corner cut off, as card is drawn everywhere. */
  clip-path: polygon(0 0, calc(100% - 14px) 0, 100% 14px, 100% 100%, 0 100%);
}
.waits {
  display: grid;
  place-content: center;
  grid-column: 1 / 3;
  padding: 4px;
  border: 2px dashed #555;
  color: #222;
  background: rgb(255 255 255 / 55%);
  font-size: 14px;
  line-height: 1.15;
  text-align: center;
}
.none {
  background: repeating-linear-gradient(45deg, #fff 0 4px, #999 4px 8px);
}
.name {
  font: 600 17px/1.15 var(--colour-names);
}
.told {
  font-size: 14px;
  line-height: 1.2;
  color: var(--text-soft);
}
</style>

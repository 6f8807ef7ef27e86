<script setup lang="ts">
/** Every ink by itself, on the chart's card and on white card: which of them the card spoils. */
import { ref, shallowRef, watch } from 'vue'

import MudGlass from '@/shared/MudGlass.vue'
import { api, need, type AloneList, type ChartIn } from '@/shared/api'
import { useNewest } from '@/shared/newest'
import { verdictKindSaid } from '../../generated/words'
import { useStash } from '../stash/useStash'

const { body, card } = defineProps<{ body: ChartIn; card: string }>()
const emit = defineEmits<{ look: [id: number]; lay: [id: number] }>()
const { nameOf, attempt } = useStash()

const list = shallowRef<AloneList | null>(null)
const open = ref<number | null>(null)
const fetchAlone = useNewest(
  () => need(api.POST('/api/chart/alone', { body })),
  (answer) => (list.value = answer),
)
watch(
  () => JSON.stringify(body),
  () => void attempt(fetchAlone),
  { immediate: true },
)
</script>

<template>
  <p v-if="!list" role="status">Looking …</p>
  <template v-else>
    <p v-if="!list.coloured" class="told">{{ card }} is white enough: every ink is its own colour here.</p>
    <p v-else class="told">
      <b v-if="list.spoilt">{{ card }} spoils or dulls {{ list.spoilt }} of {{ list.inks.length }} inks.</b>
      <b v-else>{{ card }} leaves every ink its colour.</b>
      Each one by itself: on white card, and on this card. Press one to see what saves it.
    </p>
    <ul class="alone">
      <li v-for="ink in list.inks" :key="ink.ink_id" :class="{ spoilt: ink.kind !== 'clean' }">
        <button
          type="button"
          :aria-expanded="open === ink.ink_id"
          @click="open = open === ink.ink_id ? null : ink.ink_id"
        >
          <span class="pair" aria-hidden="true">
            <span :style="{ backgroundColor: list.white }"><i :style="{ backgroundColor: ink.white }"></i></span>
            <span :style="{ backgroundColor: list.card }"><i :style="{ backgroundColor: ink.hex }"></i></span>
          </span>
          <span class="name">{{ nameOf(ink.ink_id) }}</span>
          <span class="is"
            ><MudGlass v-if="ink.mud >= 10" :mud="ink.mud" :line="list.mud_line" :size="20" />{{
              ink.kind === 'clean' ? ink.words : `${verdictKindSaid[ink.kind]}: ${ink.words}`
            }}</span
          >
        </button>
        <p v-if="open === ink.ink_id" class="acts">
          <button type="button" class="word" @click="emit('lay', ink.ink_id)">
            {{ ink.kind === 'clean' ? 'Lay it in Overlap' : 'What saves it, in Overlap' }}
          </button>
          <button type="button" class="word" @click="emit('look', ink.ink_id)">With every other ink</button>
        </p>
      </li>
    </ul>
  </template>
</template>

<style scoped>
.told {
  margin: 0 0 8px;
}
.told b {
  display: block;
}
.alone {
  display: grid;
  gap: 2px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.alone > li > button {
  display: grid;
  grid-template-columns: 92px 1fr;
  gap: 0 10px;
  align-items: center;
  width: 100%;
  min-height: 48px;
  padding: 2px 4px;
  border: 1px solid transparent;
  border-radius: 3px;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.alone > li > button:hover {
  border-color: var(--line);
}
.pair {
  display: grid;
  grid-row: span 2;
  grid-template-columns: 1fr 1fr;
  height: 40px;
}
.pair > span {
  padding: 7px;
}
.pair i {
  display: block;
  height: 100%;
}
.name {
  line-height: 1.2;
}
.spoilt .name {
  font-weight: 700;
}
.is {
  display: flex;
  gap: 6px;
  align-items: center;
  font-size: 15px;
  line-height: 1.2;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 2px 0 8px;
}
.acts .word {
  min-height: 42px;
  padding: 0 10px;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--raised);
  color: inherit;
  font: inherit;
  cursor: pointer;
}
</style>

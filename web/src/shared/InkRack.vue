<script setup lang="ts">
/** The inks standing ready: pads with their names, by range; a press lays one. */
import { ElInput } from 'element-plus'
import { computed, ref } from 'vue'

import type { StashInk } from './api'
import { type Formula, formulaSaid } from '../generated/words'

const { inks, chosen, into } = defineProps<{
  inks: readonly StashInk[]
  chosen: readonly (number | null)[]
  /** What a press does, in words. */
  into: string
}>()
const emit = defineEmits<{ choose: [ink: StashInk, onTop: boolean] }>()

const sought = ref('')
const ranges = computed(() => {
  const words = sought.value.toLowerCase().split(/\s+/).filter(Boolean)
  const found = new Map<string, StashInk[]>()
  for (const ink of inks) {
    const text = `${ink.name} ${ink.range} ${formulaSaid[ink.formula]} ${ink.words}`.toLowerCase()
    if (!words.every((word) => text.includes(word))) continue
    const group = found.get(ink.range) ?? []
    group.push(ink)
    found.set(ink.range, group)
  }
  return [...found]
})

/** The formula of a whole range, where it has one. */
const oneFormula = (group: StashInk[]): Formula | null => {
  const [first, ...rest] = group
  return first && rest.every((ink) => ink.formula === first.formula) ? first.formula : null
}

const place = (ink: StashInk): string => chosen.flatMap((id, n) => (id === ink.id ? [n + 1] : [])).join(', ')

/** Arrow keys walk the pads; letters are left to the search field. */
function walk(event: KeyboardEvent): void {
  const pads = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('.pad')]
  const at = pads.indexOf(document.activeElement as HTMLElement)
  const by = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key]
  if (at < 0 || by === undefined) return
  event.preventDefault()
  pads[(at + by + pads.length) % pads.length]?.focus()
}
</script>

<template>
  <section class="rack" aria-label="Inks">
    <p class="into">{{ into }}</p>
    <ElInput v-model="sought" placeholder="Find an ink" aria-label="Find an ink" clearable class="find" />
    <div class="shelf" @keydown="walk">
      <section v-for="[range, group] in ranges" :key="range" :aria-label="range">
        <h2>
          {{ range || 'No range' }}
          <span v-if="oneFormula(group)">{{ formulaSaid[oneFormula(group) ?? 'unknown'] }}</span>
        </h2>
        <button
          v-for="ink in group"
          :key="ink.id"
          type="button"
          class="pad"
          :class="{ laid: chosen.includes(ink.id) }"
          :aria-pressed="chosen.includes(ink.id)"
          :title="`${ink.words}, ${formulaSaid[ink.formula]}`"
          @click="emit('choose', ink, $event.shiftKey)"
        >
          <span class="felt" :style="{ backgroundColor: ink.hex }"></span>
          <span class="name"
            >{{ ink.name }}<small v-if="!oneFormula(group)">{{ formulaSaid[ink.formula] }}</small></span
          >
          <span v-if="place(ink)" class="place" :title="`Lies at ${place(ink)}`">{{ place(ink) }}</span>
        </button>
      </section>
      <p v-if="!ranges.length" class="none">No ink of that name, range, formula or colour.</p>
    </div>
  </section>
</template>

<style scoped>
.rack {
  display: flex;
  flex-direction: column;
  min-height: 0;
  gap: 8px;
}
.into {
  margin: 0 0 -4px;
  font-size: 15px;
  line-height: 1.2;
  color: var(--text-soft);
}
.find {
  flex: none;
}
.shelf {
  overflow-y: auto;
  min-height: 0;
  padding: 3px 4px 12px 3px;
  scrollbar-gutter: stable;
}
h2 {
  margin: 10px 0 4px;
  font-size: 15px;
  font-weight: 600;
}
h2 span {
  font-weight: 400;
  color: var(--text-soft);
}
.pad {
  display: grid;
  grid-template-columns: 44px minmax(0, 1fr) auto;
  align-items: center;
  gap: 10px;
  width: 100%;
  min-height: 44px;
  margin: 2px 0;
  padding: 3px 8px 3px 3px;
  border: 1px solid transparent;
  border-radius: 5px;
  background: none;
  text-align: left;
  cursor: pointer;
}
.pad:hover {
  border-color: var(--line);
}
.pad.laid {
  background: var(--raised);
  border-color: var(--text);
}
.felt {
  height: 34px;
  border: 3px solid #1c1c1c;
  border-radius: 4px;
  box-shadow: 0 1px 2px var(--shadow);
}
.name {
  font: 500 17px/1.15 var(--colour-names);
}
.name small {
  display: block;
  font: 400 14px/1.1 var(--body);
  color: var(--text-soft);
}
.place {
  min-width: 24px;
  padding: 2px 4px;
  border: 1px solid var(--line);
  border-radius: 12px;
  background: var(--raised);
  font-size: 14px;
  font-weight: 600;
  line-height: 1.2;
  text-align: center;
}
.none {
  color: var(--text-soft);
}
</style>

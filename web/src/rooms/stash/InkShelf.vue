<script setup lang="ts">
/** The pads on their shelf, neighbours in hue side by side. */
import type { StashInk } from '@/shared/api'
import { formulaSaid, padStateSaid, standingSaid } from '../../generated/words'

const { inks, open, picked, several } = defineProps<{
  inks: readonly StashInk[]
  open: number | null
  picked: ReadonlySet<number>
  several: boolean
}>()
const emit = defineEmits<{ open: [ink: StashInk]; pick: [ink: StashInk] }>()

const press = (ink: StashInk): void => (several ? emit('pick', ink) : emit('open', ink))
const told = (ink: StashInk): string =>
  [
    ink.item.standing !== 'owned' ? standingSaid[ink.item.standing] : '',
    ink.pad && ink.pad !== 'good' ? padStateSaid[ink.pad] : '',
  ]
    .filter(Boolean)
    .join(', ')

/** Arrow keys walk the shelf as it lies on the screen. */
function walk(event: KeyboardEvent): void {
  const pads = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('.pad')]
  const at = pads.indexOf(document.activeElement as HTMLElement)
  if (at < 0 || !event.key.startsWith('Arrow')) return
  const perRow = pads.filter((pad) => pad.offsetTop === pads[0]?.offsetTop).length
  const by = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: perRow, ArrowUp: -perRow }[event.key] ?? 0
  event.preventDefault()
  pads[Math.min(Math.max(at + by, 0), pads.length - 1)]?.focus()
}
</script>

<template>
  <div class="shelf" role="group" aria-label="Inks by hue" @keydown="walk">
    <button
      v-for="ink in inks"
      :key="ink.id"
      v-memo="[ink, open === ink.id, picked.has(ink.id), several]"
      type="button"
      class="pad"
      :class="{ open: open === ink.id, picked: picked.has(ink.id), away: ink.item.standing !== 'owned' }"
      :aria-pressed="several ? picked.has(ink.id) : open === ink.id"
      :title="`${ink.words}, ${ink.range || 'no range'}`"
      @click="press(ink)"
    >
      <span class="tray"><span class="felt" :style="{ backgroundColor: ink.hex }"></span></span>
      <span class="name">{{ ink.name }}</span>
      <span class="formula">{{ formulaSaid[ink.formula] }}</span>
      <span v-if="told(ink)" class="told">{{ told(ink) }}</span>
      <span v-if="picked.has(ink.id)" class="tick" aria-hidden="true">✓</span>
    </button>
  </div>
</template>

<style scoped>
.shelf {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(112px, 1fr));
  align-content: start;
  gap: 6px 4px;
}
.pad {
  position: relative;
  display: grid;
  grid-template-rows: 58px auto auto auto;
  align-content: start;
  justify-items: stretch;
  padding: 5px 5px 6px;
  border: 1px solid transparent;
  border-radius: 5px;
  background: none;
  text-align: left;
  cursor: pointer;
}
.pad:hover {
  border-color: var(--line);
}
.pad.open,
.pad.picked {
  border-color: var(--text);
  background: var(--raised);
}
.tray {
  display: block;
  padding: 4px;
  border-radius: 5px;
  background: #1c1c1c;
  box-shadow: 0 1px 3px var(--shadow);
}
.felt {
  display: block;
  height: 100%;
  border-radius: 2px;
}
/* Not on the shelf: an empty tray with a strip of the colour. */
.away .tray {
  background: none;
  box-shadow: inset 0 0 0 2px #1c1c1c;
}
.away .felt {
  height: 35%;
}
:root[data-surround='dark'] .away .tray {
  box-shadow: inset 0 0 0 2px #8a8a8a;
}
.name {
  margin-top: 5px;
  font: 550 16px/1.12 var(--colour-names);
}
.formula,
.told {
  font-size: 14px;
  line-height: 1.2;
  color: var(--text-soft);
}
.told {
  font-weight: 600;
  color: var(--text);
}
.tick {
  position: absolute;
  top: 8px;
  right: 9px;
  width: 24px;
  height: 24px;
  border-radius: 50%;
  background: var(--on-strong);
  color: var(--strong);
  font-weight: 700;
  line-height: 24px;
  text-align: center;
}
</style>

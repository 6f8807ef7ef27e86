<script setup lang="ts">
/** The keys of a screen. */
import { singleKeys } from './keys'
import SheetDialog from './SheetDialog.vue'

const { own = null, walk = false } = defineProps<{
  /** Whether the first walk can be taken. */
  walk?: boolean
  /** The keys of another screen than Overlap, with what they do. */
  own?: readonly (readonly [string, string])[] | null
}>()
const emit = defineEmits<{ close: []; walk: [] }>()
const everywhere: [string, string][] = [
  ['?', 'This list'],
  ['1 to 8', 'Overlap, Chart, Match, Panel, Table, Swatch book, Stash, Formulas'],
  ['Ctrl Z, Ctrl Shift Z', 'Undo, redo'],
  ['/', 'Find an ink'],
]
const overlap: [string, string][] = [
  ['Enter on an ink', 'Lay it where the stack is picked; with Shift, on top'],
  ['← →', 'Pick another layer, in the edge view'],
  ['Alt ← →', 'Move the picked layer'],
  ['+ −', 'One pass more or less'],
  ['W', 'While wet, or let dry first'],
  ['R', 'Reverse the two uppermost inks'],
  ['N', 'Next layer, on top'],
  ['Delete', 'Take the picked layer out'],
  ['U', 'Under everything, a white barrier'],
  ['D, H, T, B', 'Drops of water, heat-set, topcoat, blot'],
  ['L', 'Laid already, up to the picked layer'],
  ['F', 'First fix, applied'],
  ['S', 'Show it another way'],
  ['V', 'View help, nudges, the colour itself'],
  ['K', 'Keep it in the swatch book'],
  ['G', 'Go to the table with it'],
  ['O', 'Overlaps, all of them'],
  ['C', 'Compare with another'],
]
</script>

<template>
  <SheetDialog title="Keys" @close="emit('close')">
    <p v-if="walk" class="on">
      <button type="button" class="word framed" @click="emit('walk')">Take the first walk again</button>
    </p>
    <label class="on"
      ><input v-model="singleKeys" type="checkbox" /> Single keys are commands (Undo and redo always are)</label
    >
    <dl>
      <template v-for="[key, does] in [...everywhere, ...(own ?? overlap)]" :key="key">
        <dt>
          <kbd>{{ key }}</kbd>
        </dt>
        <dd>{{ does }}</dd>
      </template>
    </dl>
  </SheetDialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: max-content 1fr max-content 1fr;
  gap: 8px 18px;
  margin: 0;
}
dd {
  margin: 0;
}
.on {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 44px;
  margin-bottom: 10px;
}
.on input {
  width: 22px;
  height: 22px;
  accent-color: var(--strong);
}
kbd {
  padding: 2px 8px;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--raised);
  font: 500 16px/1.3 var(--body);
}
@media (max-width: 820px) {
  dl {
    grid-template-columns: max-content 1fr;
  }
}
</style>

<script setup lang="ts">
/** The inks line by line, with what is known of each. */
import type { StashInk } from '@/shared/api'
import { formulaSaid, knownSaid, padStateSaid, placeSaid, standingSaid } from '../../generated/words'

const { inks, open, picked, several } = defineProps<{
  inks: readonly StashInk[]
  open: number | null
  picked: ReadonlySet<number>
  several: boolean
}>()
const emit = defineEmits<{ open: [ink: StashInk]; pick: [ink: StashInk] }>()
const press = (ink: StashInk): void => (several ? emit('pick', ink) : emit('open', ink))
</script>

<template>
  <table class="list">
    <thead>
      <tr>
        <th></th>
        <th>Ink</th>
        <th>Range</th>
        <th>Formula</th>
        <th>Pad</th>
        <th>Colour known by</th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="ink in inks"
        :key="ink.id"
        v-memo="[ink, open === ink.id, picked.has(ink.id), several]"
        :class="{ on: open === ink.id || picked.has(ink.id) }"
      >
        <td class="chip"><span class="felt" :style="{ backgroundColor: ink.hex }"></span></td>
        <td>
          <button
            type="button"
            class="name"
            :aria-pressed="several ? picked.has(ink.id) : open === ink.id"
            @click="press(ink)"
          >
            <span v-if="picked.has(ink.id)" aria-hidden="true">✓ </span>{{ ink.name }}
          </button>
          <span class="soft">{{ ink.item.place ? placeSaid[ink.item.place] : '' }}</span>
        </td>
        <td>{{ ink.range }}</td>
        <td>{{ formulaSaid[ink.formula] }}</td>
        <td>
          {{
            [ink.item.standing !== 'owned' ? standingSaid[ink.item.standing] : '', ink.pad ? padStateSaid[ink.pad] : '']
              .filter(Boolean)
              .join(', ')
          }}
        </td>
        <td>{{ knownSaid[ink.item.ink.swatch.known ?? 'typed'] }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.list {
  width: 100%;
  border-collapse: collapse;
  font-size: 16px;
}
th {
  position: sticky;
  top: 0;
  padding: 4px 8px;
  background: var(--ground);
  font-size: 15px;
  font-weight: 600;
  text-align: left;
}
td {
  padding: 2px 8px;
  border-top: 1px solid var(--line-soft);
}
.on td {
  background: var(--raised);
}
.chip {
  width: 56px;
}
.felt {
  display: block;
  height: 26px;
  border: 2px solid #1c1c1c;
  border-radius: 3px;
}
.name {
  min-height: 40px;
  padding: 0;
  border: 0;
  background: none;
  font: 550 17px/1.15 var(--colour-names);
  text-align: left;
  cursor: pointer;
}
.name:hover {
  text-decoration: underline;
}
.soft {
  margin-left: 8px;
  font-size: 14px;
  color: var(--text-soft);
}
</style>

<script setup lang="ts">
/** Numbers of the craft table, this ink's or its whole range's own; empty takes the formula's. */
import { computed } from 'vue'

import { useStash } from './useStash'
import { FORMULA_TABLE, type Formula } from '../../generated/words'
import TypedInput from '@/shared/TypedInput.vue'

type Row = { id: number; revision: number; item: { name: string; constants: Record<string, number>; notes: string } }
const { formula, hiding, constants, range, rangeRow } = defineProps<{
  formula: Formula
  hiding: number | null
  constants: Record<string, number>
  range: string
  rangeRow: Row | null
}>()
const emit = defineEmits<{ hiding: [value: number | null]; constants: [value: Record<string, number>] }>()
const { ranges, change } = useStash()

const rows = computed(() =>
  FORMULA_TABLE.filter((row) => !row.column.startsWith('says_')).map((row) => ({ ...row, usual: row.values[formula] })),
)

/** A number as typed, with point or comma; null when the field was emptied. */
function read(text: string): number | null | undefined {
  const word = text.trim().replace(',', '.')
  if (!word) return null
  const value = Number(word)
  return Number.isFinite(value) ? value : undefined
}

const with_ = (all: Record<string, number>, column: string, value: number | null): Record<string, number> => {
  const rest = Object.fromEntries(Object.entries(all).filter(([key]) => key !== column))
  return value === null ? rest : { ...rest, [column]: value }
}

function own(column: string, text: string): void {
  const value = read(text)
  if (value === undefined) return
  if (column === 'hiding') emit('hiding', value)
  else emit('constants', with_(constants, column, value))
}

function whole(column: string, text: string): void {
  const value = read(text)
  if (value === undefined || !range) return
  void change(`Change the range ${range}`, () => {
    const now = ranges.value.find((each) => each.item.name === range)
    const item = {
      name: range,
      notes: now?.item.notes ?? '',
      constants: with_(now?.item.constants ?? {}, column, value),
    }
    return [{ kind: 'range', ...(now ? { id: now.id, revision: now.revision } : {}), item }]
  })
}
</script>

<template>
  <table>
    <thead>
      <tr>
        <th>what</th>
        <th>usual</th>
        <th>this ink</th>
        <th>all {{ range || 'of a range' }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.column" :title="row.reason">
        <td>
          {{ row.column.replace('_', ' ') }}<small>{{ row.unit }}</small>
        </td>
        <td>{{ Number((row.usual ?? 0).toPrecision(3)) }}</td>
        <td>
          <TypedInput
            :value="String((row.column === 'hiding' ? hiding : constants[row.column]) ?? '')"
            :aria-label="`${row.column} of this ink`"
            @typed="(text: string) => own(row.column, text)"
          />
        </td>
        <td>
          <TypedInput
            :value="String(rangeRow?.item.constants[row.column] ?? '')"
            :disabled="!range"
            :aria-label="`${row.column} of the range`"
            @typed="(text: string) => whole(row.column, text)"
          />
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 15px;
}
th {
  font-weight: 500;
  text-align: left;
}
td {
  padding: 1px 4px 1px 0;
}
small {
  display: block;
  font-size: 12px;
  line-height: 1;
  color: var(--text-soft);
}
td :deep(.el-input) {
  width: 66px;
}
</style>

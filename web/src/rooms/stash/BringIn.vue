<script setup lang="ts">
/** A table of inks or a whole workspace from a file: first what it would change, then all of it or nothing. */
import { ElButton } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'

import { sendFile, type ImportOut } from '@/shared/api'
import { useStash } from './useStash'
import SheetDialog from '@/shared/SheetDialog.vue'

const emit = defineEmits<{ close: [] }>()
const { attempt, fetchStash, trouble } = useStash()

const file = shallowRef<File | null>(null)
const preview = shallowRef<ImportOut | null>(null)
const only = ref(false)
const path = computed(() => (file.value?.name.toLowerCase().endsWith('.json') ? '/api/import/workspace' : '/api/import/inks'))
const bad = computed(() => preview.value?.rows.filter((row) => row.status === 'bad') ?? [])
const count = (status: string): number => preview.value?.rows.filter((row) => row.status === status).length ?? 0
const shown = computed(() => {
  const rows = preview.value?.rows ?? []
  return [...rows].filter((row) => !only.value || row.status !== 'same').sort((a, b) => Number(b.status === 'bad') - Number(a.status === 'bad'))
})
const said = { new: 'new', changed: 'will change', same: 'the same already', bad: 'cannot be read' }

async function look(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  file.value = input.files?.[0] ?? null
  preview.value = null
  await attempt(async () => {
    if (file.value) preview.value = await sendFile<ImportOut>(path.value, file.value)
  })
  input.value = ''
}

async function apply(): Promise<void> {
  const done = await attempt(async () => {
    if (file.value) await sendFile<ImportOut>(`${path.value}?apply=true`, file.value)
    await fetchStash()
  })
  if (done) emit('close')
}
</script>

<template>
  <SheetDialog title="Bring inks in from a file" @close="emit('close')">
    <div class="in">
      <p>
        A table of inks (CSV: name, range, formula, hex or lab_l, lab_a, lab_b …) or a workspace that Wempa wrote (JSON).
        Nothing is stored before you have seen what would change.
      </p>
      <label class="pick-file">Choose a file<input type="file" accept=".csv,.txt,.tsv,.json" @change="look" /></label>
      <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
      <template v-if="preview">
        <p class="sum" role="status">
          <b>{{ file?.name }}</b>: {{ count('new') }} new, {{ count('changed') }} changed, {{ count('same') }} the same,
          {{ bad.length }} that cannot be read.
        </p>
        <label class="only"><input v-model="only" type="checkbox" /> only what makes a difference</label>
        <div class="rows">
          <table>
            <thead>
              <tr><th>Line</th><th>What</th><th>Name</th><th>Would be</th><th></th></tr>
            </thead>
            <tbody>
              <tr v-for="(row, i) in shown" :key="i" :class="row.status">
                <td>{{ row.line ?? '' }}</td>
                <td>{{ row.kind }}</td>
                <td class="name">{{ row.name }}</td>
                <td>{{ said[row.status] }}</td>
                <td>{{ row.problem ?? row.changes.join('; ') }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-if="bad.length">Mend these rows in the file and choose it again; it is taken in whole or not at all.</p>
        <ElButton v-else type="primary" size="large" :disabled="!count('new') && !count('changed')" @click="apply">
          {{ count('new') || count('changed') ? 'Take all of it in' : 'Nothing to take in' }}
        </ElButton>
      </template>
    </div>
  </SheetDialog>
</template>

<style scoped>
.in {
  display: grid;
  justify-items: start;
  gap: 10px;
}
p {
  margin: 0;
}
.trouble {
  padding: 8px 12px;
  border: 2px solid var(--text);
}
.rows {
  width: 100%;
  max-height: 420px;
  overflow: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 16px;
}
th {
  position: sticky;
  top: 0;
  background: var(--slip);
  text-align: left;
}
th,
td {
  padding: 4px 10px 4px 0;
  border-bottom: 1px solid var(--line-soft);
}
td:nth-child(-n + 4) {
  white-space: nowrap;
}
.name {
  font: 550 17px/1.2 var(--colour-names);
}
.bad td {
  font-weight: 600;
}
.bad td:first-child {
  border-left: 5px double var(--text);
  padding-left: 6px;
}
.same {
  color: var(--text-soft);
}
</style>

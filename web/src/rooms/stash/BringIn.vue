<script setup lang="ts">
/** A table of inks or a whole workspace from a file: first what it would change, then all of it or nothing. */
import { ElButton } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'

import { sendFile, type ImportOut } from '@/shared/api'
import SheetDialog from '@/shared/SheetDialog.vue'
import { useOverlap } from '../overlap/useOverlap'
import { usePanel } from '../panels/usePanel'
import { type ImportStatus, importStatusSaid, importStatusWords } from '../../generated/words'
import { useStash } from './useStash'

const emit = defineEmits<{ close: [] }>()
const { attempt, fetchStash } = useStash()
const { fetchDesk } = useOverlap()
const { desk: panelDesk, fetchPanel } = usePanel()

// What wants looking at stands first.
const worth: Record<ImportStatus, number> = { bad: 4, conflict: 3, changed: 2, new: 1, same: 0 }

const file = shallowRef<File | null>(null)
const preview = shallowRef<ImportOut | null>(null)
const only = ref(false)
const isWorkspace = computed(() => /\.(json|zip)$/i.test(file.value?.name ?? ''))
const path = computed(() => `/api/import/${isWorkspace.value ? 'workspace' : 'inks'}`)
const count = (status: ImportStatus): number => preview.value?.rows.filter((row) => row.status === status).length ?? 0
const some = (status: ImportStatus): boolean => count(status) > 0
const differs = computed(() => some('new') || some('changed') || some('conflict'))
const shown = computed(() => {
  const rows = (preview.value?.rows ?? []).filter((row) => !only.value || row.status !== 'same')
  return rows.sort((a, b) => worth[b.status] - worth[a.status])
})
const counted = computed(() =>
  importStatusWords
    .filter(some)
    .map((status) => `${count(status)} ${importStatusSaid[status]}`)
    .join(', '),
)

async function look(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  file.value = input.files?.[0] ?? null
  preview.value = null
  await attempt(async () => {
    if (file.value) preview.value = await sendFile<ImportOut>(path.value, file.value)
  })
  input.value = ''
}

async function apply(keep = ''): Promise<void> {
  const done = await attempt(async () => {
    if (file.value) await sendFile<ImportOut>(`${path.value}?apply=true${keep}`, file.value)
    await fetchStash()
    await fetchDesk()
    if (panelDesk.value) await fetchPanel()
  })
  if (done) emit('close')
}
</script>

<template>
  <SheetDialog title="Bring in from a file" @close="emit('close')">
    <div class="in">
      <p>
        A table of inks (CSV: name, range, formula, hex or lab_l, lab_a, lab_b …) or a workspace that Wempa wrote (ZIP
        or JSON). Nothing is stored before you have seen what would change.
      </p>
      <label class="pick-file"
        >Choose a file<input type="file" accept=".csv,.txt,.tsv,.json,.zip" @change="look"
      /></label>
      <template v-if="preview">
        <p class="sum" role="status">
          <b>{{ file?.name }}</b>: {{ counted || 'nothing in it' }}.
        </p>
        <p v-if="some('bad')">Mend these rows in the file and choose it again; it is taken in whole or not at all.</p>
        <div v-else class="acts">
          <ElButton type="primary" size="large" :disabled="!differs" @click="apply()">
            {{
              !differs
                ? 'Nothing to take in'
                : some('conflict')
                  ? 'Take all of it, over what I changed'
                  : 'Take all of it in'
            }}
          </ElButton>
          <ElButton v-if="some('conflict')" size="large" @click="apply('&keep=mine')"
            >Take it in, but keep what I changed</ElButton
          >
          <span v-if="differs">One undo takes it back.</span>
        </div>
        <label class="only"><input v-model="only" type="checkbox" /> only what makes a difference</label>
        <div class="rows">
          <table>
            <thead>
              <tr>
                <th v-if="!isWorkspace">Line</th>
                <th>What</th>
                <th>Name</th>
                <th>Is</th>
                <th>here → in the file</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(row, i) in shown" :key="i" :class="row.status">
                <td v-if="!isWorkspace">{{ row.line ?? '' }}</td>
                <td>{{ row.kind }}</td>
                <td class="name">{{ row.name }}</td>
                <td class="is">{{ importStatusSaid[row.status] }}</td>
                <td>{{ row.problem ?? row.changes.join('; ') }}</td>
              </tr>
            </tbody>
          </table>
        </div>
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
td:not(:last-child) {
  white-space: nowrap;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
}
.acts :deep(.el-button) {
  margin: 0;
}
.conflict .is {
  font-weight: 600;
}
.conflict td:first-child {
  border-left: 5px solid var(--text);
  padding-left: 6px;
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

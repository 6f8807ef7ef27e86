<script setup lang="ts">
/** What is printed and given out of the stash: the swatch sheet, all of it, the palette. */
import { ElSelect } from 'element-plus'
import { computed, ref } from 'vue'

import type { StashInk } from '@/shared/api'
import FieldRow from './FieldRow.vue'
import SheetDialog from '@/shared/SheetDialog.vue'

const { picked } = defineProps<{
  /** Inks whose names stand on the sheet. */
  picked: readonly StashInk[]
}>()
const emit = defineEmits<{ close: [] }>()

const page = ref<'a4' | 'letter'>('a4')
const sheetLink = computed(() => `/api/sheet.pdf?page=${page.value}${picked.map((ink) => `&ink=${ink.id}`).join('')}`)
</script>

<template>
  <SheetDialog title="Print and give out" fit @close="emit('close')">
    <div class="out">
      <section>
        <h3>Swatch sheet</h3>
        <p>
          Squares of 24 mm at real size with name and formula below, a bare square for white and a black one; print at
          100 %, ink it, photograph it.
          <template v-if="picked.length">With the {{ picked.length }} inks you picked.</template>
          <template v-else>Blank: pick several inks first to have their names on it.</template>
        </p>
        <FieldRow plain label="Paper"
          ><ElSelect
            v-model="page"
            :teleported="false"
            :options="[
              { value: 'a4', label: 'A4' },
              { value: 'letter', label: 'Letter' },
            ]"
            aria-label="Paper"
        /></FieldRow>
        <a class="give" :href="sheetLink" download>Swatch sheet, PDF</a>
      </section>
      <section>
        <h3>All of it</h3>
        <p>Every ink, card, tool, overlap and panel, to keep or to hand over. Wempa reads it again exactly.</p>
        <a class="give" href="/api/export/workspace.zip" download>With photos, ZIP</a>
        <a class="give" href="/api/export/workspace.json" download>Without photos, JSON</a>
        <a class="give" href="/api/export/inks.csv" download>Inks, CSV</a>
      </section>
      <section>
        <h3>Palette of the owned inks</h3>
        <p>Their colours as a screen shows them, for other programs.</p>
        <a
          v-for="form in ['csv', 'json', 'gpl', 'css']"
          :key="form"
          class="give"
          :href="`/api/export/palette.${form}`"
          download
          >{{ form.toUpperCase() }}</a
        >
      </section>
    </div>
  </SheetDialog>
</template>

<style scoped>
.out {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 28px;
}
section {
  display: grid;
  align-content: start;
  justify-items: start;
  gap: 10px;
}
.out :deep(.el-select) {
  width: 150px;
}
h3,
p {
  margin: 0;
}
.give {
  display: inline-grid;
  align-content: center;
  min-height: 44px;
  padding: 0 14px;
  border: 1px solid var(--text);
  border-radius: 4px;
  background: var(--raised);
  color: inherit;
  text-decoration: none;
}
@media (max-width: 820px) {
  .out {
    grid-template-columns: 1fr;
  }
}
</style>

<script setup lang="ts">
/** One brush, foam or other tool, opened. */
import { ElButton, ElCheckbox, ElInput, ElInputNumber, ElSelect } from 'element-plus'

import type { StashTool } from '@/shared/api'
import { useDraft } from './useDraft'
import { familySaid, familyWords, toolSaid, toolSetSaid, toolSetWords, toolWords } from '../../generated/words'
import { blankToolItem } from '../../generated/blanks'
import { choices } from '@/shared/choices'
import FieldRow from './FieldRow.vue'

const { tool } = defineProps<{ tool: StashTool | null }>()
const emit = defineEmits<{ close: []; made: [name: string] }>()

const { draft, keep, put, make, remove } = useDraft('tool', () => tool, blankToolItem)

async function add(): Promise<void> {
  const name = await make()
  if (name) emit('made', name)
}
async function away(): Promise<void> {
  if (await remove()) emit('close')
}
</script>

<template>
  <section class="editor" :aria-label="tool ? `${tool.item.name}, opened` : 'A new tool'">
    <header>
      <h2>{{ tool?.item.name ?? 'A new tool' }}</h2>
      <button type="button" class="plain" @click="emit('close')">Close</button>
    </header>
    <FieldRow label="Name"
      ><ElInput :model-value="draft.name" maxlength="120" @input="(v: string) => (draft.name = v)" @change="keep()"
    /></FieldRow>
    <div class="pair">
      <FieldRow label="Kind"
        ><ElSelect
          :model-value="draft.tool"
          :options="choices(toolWords, toolSaid)"
          aria-label="Kind of tool"
          @update:model-value="(v) => put({ tool: v })"
      /></FieldRow>
      <FieldRow label="Size, mm" :hint="draft.size ? `${Math.round((draft.size / 25.4) * 100) / 100} in` : ''">
        <ElInputNumber
          :model-value="draft.size ?? undefined"
          :min="1"
          :max="2000"
          :controls="false"
          aria-label="Size in millimetres"
          @change="(size: number | undefined) => put({ size: size ?? null })"
        />
      </FieldRow>
      <FieldRow label="Kept for colours"
        ><ElSelect
          :model-value="draft.family ?? undefined"
          clearable
          placeholder="any"
          :options="choices(familyWords, familySaid)"
          aria-label="Kept for colours"
          @update:model-value="(v) => put({ family: v ?? null })"
      /></FieldRow>
      <FieldRow label="Set for"
        ><ElSelect
          :model-value="draft.kept_for ?? undefined"
          clearable
          placeholder="any"
          :options="choices(toolSetWords, toolSetSaid)"
          aria-label="Set for"
          @update:model-value="(v) => put({ kept_for: v ?? null })"
      /></FieldRow>
      <FieldRow v-if="draft.tool === 'foam'" label="Foam changed on"
        ><input
          class="date"
          type="date"
          :value="draft.foam_changed ?? ''"
          @change="(e) => put({ foam_changed: (e.target as HTMLInputElement).value || null })"
      /></FieldRow>
      <ElCheckbox :model-value="draft.worn" @update:model-value="(v) => put({ worn: Boolean(v) })">Worn</ElCheckbox>
    </div>
    <FieldRow label="Notes"
      ><ElInput
        :model-value="draft.notes"
        type="textarea"
        :rows="2"
        @input="(v: string) => (draft.notes = v)"
        @change="keep()"
    /></FieldRow>
    <footer>
      <ElButton v-if="tool" @click="away">Delete</ElButton>
      <ElButton v-else type="primary" size="large" :disabled="!draft.name.trim()" @click="add"
        >Put it in the stash</ElButton
      >
    </footer>
  </section>
</template>

<style scoped src="./editor.css"></style>

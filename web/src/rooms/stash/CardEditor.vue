<script setup lang="ts">
/** One cardstock, opened. Sizes are kept in millimetres and said in both. */
import { ElButton, ElInput, ElInputNumber, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'

import type { CardItem, StashCard } from '@/shared/api'
import { readColour } from '@/shared/colour'
import { useDraft } from './useDraft'
import { type Basis, basisSaid, basisWords, type Surface, surfaceSaid, surfaceWords } from '../../generated/words'
import { blankCardItem } from '../../generated/blanks'
import { choices } from '@/shared/choices'
import FieldRow from './FieldRow.vue'
import TypedInput from '@/shared/TypedInput.vue'

const { card } = defineProps<{ card: StashCard | null }>()
const emit = defineEmits<{ close: []; made: [name: string] }>()

const { draft, keep, put, make, remove } = useDraft('card', () => card, blankCardItem)

const units = [
  { value: 'gsm', label: 'g/m²' },
  ...choices(basisWords, basisSaid).map((b) => ({ value: b.value as string, label: `lb ${b.label}` })),
]
const unit = computed(() => (draft.value.weight?.unit === 'lb' ? (draft.value.weight.basis ?? 'cover') : 'gsm'))
const inch = (mm: number): string => `${Math.round((mm / 25.4) * 100) / 100} in`
const colourText = computed(() => draft.value.card.colour.hex ?? draft.value.card.colour.lab?.join(' ') ?? '')
const unread = ref('')

const putCard = (part: Partial<CardItem['card']>): void => put({ card: { ...draft.value.card, ...part } })

function setColour(text: string): void {
  const colour = readColour(text)
  unread.value = colour ? '' : `“${text}” is neither a hex such as #f8f7f4 nor the three numbers of a Lab.`
  if (colour) putCard({ colour })
}
function setWeight(value: number | undefined, as: string): void {
  if (!value) return put({ weight: null })
  put({ weight: as === 'gsm' ? { value, unit: 'gsm' } : { value, unit: 'lb', basis: as as Basis } })
}
function setSheet(width: number | undefined, height: number | undefined): void {
  put({ sheet: width && height ? { width, height } : null })
}
const share = (text: string): number | null => {
  const value = Number(text.trim().replace(',', '.'))
  return text.trim() && Number.isFinite(value) ? value : null
}
async function add(): Promise<void> {
  const name = await make()
  if (name) emit('made', name)
}
async function away(): Promise<void> {
  if (await remove()) emit('close')
}
</script>

<template>
  <section class="editor" :aria-label="card ? `${card.name}, opened` : 'A new card'">
    <header>
      <h2>{{ card?.name ?? 'A new card' }}</h2>
      <button type="button" class="plain" @click="emit('close')">Close</button>
    </header>
    <span class="swatch" :style="{ backgroundColor: card?.hex ?? draft.card.colour.hex ?? 'transparent' }"></span>
    <div class="pair">
      <FieldRow label="Name"
        ><ElInput :model-value="draft.name" maxlength="120" @input="(v: string) => (draft.name = v)" @change="keep()"
      /></FieldRow>
      <FieldRow label="Colour, hex or Lab"><TypedInput :value="colourText" @typed="setColour" /></FieldRow>
    </div>
    <p v-if="unread" class="unread" role="alert">{{ unread }}</p>
    <div class="pair">
      <FieldRow label="Surface">
        <ElSelect
          :model-value="draft.card.surface"
          :options="choices(surfaceWords, surfaceSaid)"
          aria-label="Surface"
          @update:model-value="(surface: Surface) => putCard({ surface })"
        />
      </FieldRow>
      <FieldRow label="Sheets left">
        <ElInputNumber
          :model-value="draft.left ?? undefined"
          :min="0"
          aria-label="Sheets left"
          @change="(left: number | undefined) => put({ left: left ?? null })"
        />
      </FieldRow>
      <FieldRow label="Weight" :hint="card?.grams && unit !== 'gsm' ? `${Math.round(card.grams)} g/m²` : ''">
        <ElInputNumber
          :model-value="draft.weight?.value"
          :min="1"
          :max="2000"
          :controls="false"
          aria-label="Weight"
          @change="(v: number | undefined) => setWeight(v, unit)"
        />
      </FieldRow>
      <FieldRow label="in">
        <ElSelect
          :model-value="unit"
          :options="units"
          aria-label="Unit of the weight"
          @update:model-value="(as: string) => setWeight(draft.weight?.value, as)"
        />
      </FieldRow>
      <FieldRow label="Sheet width, mm" :hint="draft.sheet ? inch(draft.sheet.width) : ''">
        <ElInputNumber
          :model-value="draft.sheet?.width"
          :min="1"
          :max="2000"
          :controls="false"
          aria-label="Sheet width in millimetres"
          @change="(w: number | undefined) => setSheet(w, draft.sheet?.height ?? w)"
        />
      </FieldRow>
      <FieldRow label="Sheet height, mm" :hint="draft.sheet ? inch(draft.sheet.height) : ''">
        <ElInputNumber
          :model-value="draft.sheet?.height"
          :min="1"
          :max="2000"
          :controls="false"
          aria-label="Sheet height in millimetres"
          @change="(h: number | undefined) => setSheet(draft.sheet?.width ?? h, h)"
        />
      </FieldRow>
    </div>
    <details>
      <summary>Texture, absorbency, floor and take-up</summary>
      <div class="pair">
        <FieldRow label="Texture, 0–1"
          ><TypedInput
            :value="String(draft.card.texture ?? '')"
            placeholder="by its surface"
            @typed="(t: string) => putCard({ texture: share(t) })"
        /></FieldRow>
        <FieldRow label="Absorbency, 0–1"
          ><TypedInput
            :value="String(draft.card.absorbency ?? '')"
            placeholder="by its surface"
            @typed="(t: string) => putCard({ absorbency: share(t) })"
        /></FieldRow>
        <FieldRow label="Floor, 0–1" hint="the darkest it gets"
          ><TypedInput
            :value="String(draft.card.floor ?? '')"
            placeholder="by its surface"
            @typed="(t: string) => putCard({ floor: share(t) })"
        /></FieldRow>
        <FieldRow label="Take-up, 0–1.2" hint="what it takes where it is inked"
          ><TypedInput
            :value="String(draft.card.takeup ?? '')"
            placeholder="by its surface"
            @typed="(t: string) => putCard({ takeup: share(t) })"
        /></FieldRow>
        <FieldRow label="Specks, 1–4" hint="Yule–Nielsen n: how far light spreads in the card">
          <TypedInput
            :value="String(draft.card.constants['n'] ?? '')"
            placeholder="by its surface"
            @typed="(t: string) => putCard({ constants: share(t) === null ? {} : { n: share(t) ?? 2 } })"
          />
        </FieldRow>
      </div>
    </details>
    <FieldRow label="Notes"
      ><ElInput
        :model-value="draft.notes"
        type="textarea"
        :rows="2"
        @input="(v: string) => (draft.notes = v)"
        @change="keep()"
    /></FieldRow>
    <footer>
      <ElButton v-if="card" @click="away">Delete</ElButton>
      <ElButton v-else type="primary" size="large" :disabled="!draft.name.trim()" @click="add"
        >Put it in the stash</ElButton
      >
    </footer>
  </section>
</template>

<style scoped src="./editor.css"></style>

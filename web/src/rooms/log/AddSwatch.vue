<script setup lang="ts">
/** A swatch into the book: of an overlap, of a panel's bands and seams, or laid by hand. */
import { ElButton, ElCheckbox, ElSelect } from 'element-plus'
import { computed, onMounted, ref, shallowRef } from 'vue'

import NumberBox from '@/shared/NumberBox.vue'
import { api, need, type DraftsIn, type PanelSummary, type Summary, type SwatchItem } from '@/shared/api'
import { useNewest } from '@/shared/newest'
import SheetDialog from '@/shared/SheetDialog.vue'
import { useStash } from '../stash/useStash'
import { useLog } from './useLog'
import { type Tool, toolSaid, toolWords } from '../../generated/words'

const { asked = null } = defineProps<{ asked?: Partial<DraftsIn> | null }>()
const emit = defineEmits<{ close: []; made: [ids: number[], photograph: boolean] }>()
const { atHand, cards, nameOf, attempt } = useStash()
const { draftsOf, log } = useLog()

const overlaps = shallowRef<Summary[]>([])
const panels = shallowRef<PanelSummary[]>([])
const drafts = shallowRef<SwatchItem[]>([])
const kept = ref<boolean[]>([])
// What comes from another room is known: nothing more need be chosen.
const choosing = ref(!asked)
const cardId = ref<number>()
const layers = ref<{ ink_id: number; tool: Tool; passes: number; over: 'dry' | 'wet' }[]>([])
const newInk = ref<number>()
const toolChoices = toolWords.map((value) => ({ value, label: toolSaid[value] }))
const overChoices = [
  { value: 'dry', label: 'let dry first' },
  { value: 'wet', label: 'while wet' },
]

const fetchDrafts = useNewest(draftsOf, (found) => {
  drafts.value = found
  kept.value = found.map(() => true)
})
const draft = (of: Partial<DraftsIn>): Promise<boolean> => attempt(() => fetchDrafts(of))
const count = computed(() => kept.value.filter(Boolean).length)
const store = (photograph: boolean): Promise<boolean> =>
  attempt(async () => {
    const made = await log(drafts.value.filter((_, n) => kept.value[n]))
    emit(
      'made',
      made.map((each) => each.id),
      photograph,
    )
  })
const byHand = (): Promise<boolean> =>
  draft({ stack: layers.value.map((each) => ({ ...each })), card_id: cardId.value ?? null })
function addLayer(id: number): void {
  const touch = atHand.value.find((ink) => ink.id === id)?.touch
  layers.value = [
    ...layers.value,
    { ink_id: id, tool: touch?.tool ?? 'brush', passes: touch?.passes ?? 4, over: 'dry' },
  ]
  newInk.value = undefined
}

onMounted(async () => {
  cardId.value = cards.value[0]?.id
  await attempt(async () => {
    overlaps.value = await need(api.GET('/api/overlaps'))
    panels.value = await need(api.GET('/api/panels'))
  })
  if (asked && !((await draft(asked)) && drafts.value.length)) choosing.value = true
})
const readable = (all: readonly { id: number; name: string; trouble?: string }[]) =>
  all.filter((each) => !each.trouble).map((each) => ({ value: each.id, label: each.name }))
const overlapChoices = computed(() => readable(overlaps.value))
const panelChoices = computed(() => readable(panels.value))
</script>

<template>
  <SheetDialog title="Into the swatch book" :fit="!choosing" @close="emit('close')">
    <div class="work" :class="{ choosing }">
      <section v-if="choosing">
        <h3 v-if="overlapChoices.length || panelChoices.length">What was laid</h3>
        <label v-if="overlapChoices.length" class="field"
          >Of an overlap
          <ElSelect
            :model-value="undefined"
            :options="overlapChoices"
            :teleported="false"
            placeholder="Choose an overlap"
            aria-label="Overlap to log"
            @update:model-value="(id: number) => draft({ overlap_id: id })"
        /></label>
        <label v-if="panelChoices.length" class="field"
          >Of a panel: its bands and seams
          <ElSelect
            :model-value="undefined"
            :options="panelChoices"
            :teleported="false"
            placeholder="Choose a panel"
            aria-label="Panel to log"
            @update:model-value="(id: number) => draft({ panel_id: id })"
        /></label>
        <h3>{{ overlapChoices.length || panelChoices.length ? 'Or by hand' : 'By hand' }}, the lowest first</h3>
        <label class="field"
          >Card
          <ElSelect
            v-model="cardId"
            :options="cards.map((card) => ({ value: card.id, label: card.name }))"
            filterable
            :teleported="false"
            aria-label="Card of the swatch"
        /></label>
        <div v-for="(layer, n) in layers" :key="n" class="layer">
          <b>{{ nameOf(layer.ink_id) }}</b>
          <ElSelect
            v-model="layer.tool"
            :options="toolChoices"
            :teleported="false"
            :aria-label="`Tool of layer ${n + 1}`"
          />
          <NumberBox v-model="layer.passes" :min="1" :max="40" :aria-label="`Passes of layer ${n + 1}`" />
          <ElSelect
            v-if="n"
            v-model="layer.over"
            :options="overChoices"
            :teleported="false"
            :aria-label="`Wet or dry below layer ${n + 1}`"
          /><span v-else></span>
          <button
            type="button"
            class="word"
            :aria-label="`Take out layer ${n + 1}`"
            @click="layers = layers.filter((_, k) => k !== n)"
          >
            ✕
          </button>
        </div>
        <ElSelect
          v-model="newInk"
          :options="atHand.map((ink) => ({ value: ink.id, label: nameOf(ink.id) }))"
          filterable
          :teleported="false"
          placeholder="Add a layer"
          aria-label="Add a layer"
          @change="addLayer"
        />
        <ElButton size="large" :disabled="!layers.length" @click="byHand">Write it down</ElButton>
      </section>
      <section>
        <h3 v-if="choosing">To be logged</h3>
        <p v-if="choosing && !drafts.length" class="soft">Choose on the left what was laid.</p>
        <ul>
          <li v-for="(each, n) in drafts" :key="n">
            <ElCheckbox v-model="kept[n]">{{ each.name }}</ElCheckbox><span class="soft">{{ each.card_called }}</span>
          </li>
        </ul>
        <template v-if="drafts.length">
          <ElButton type="primary" size="large" :disabled="!count" @click="store(false)"
            >Put {{ count }} into the book</ElButton
          >
          <ElButton size="large" class="under" :disabled="!count" @click="store(true)"
            >Put {{ count }} in and read the photo now</ElButton
          >
          <p class="soft">
            What has no photo waits there until you take one.
            <button v-if="!choosing" type="button" class="word" @click="choosing = true">Log something else</button>
          </p>
        </template>
      </section>
    </div>
  </SheetDialog>
</template>

<style scoped>
.work {
  display: grid;
  gap: 24px;
}
.work.choosing {
  grid-template-columns: 3fr 2fr;
}
.under {
  margin: 0;
}
section {
  display: grid;
  align-content: start;
  gap: 8px;
}
h3 {
  margin: 6px 0 0;
  font: 620 19px/1.2 var(--colour-names);
}
.field {
  display: grid;
  gap: 2px;
  font-size: 15px;
}
.work :deep(.el-select__wrapper) {
  min-height: 42px;
  font-size: 16px;
}
.layer {
  display: grid;
  grid-template-columns: minmax(0, 1.2fr) 1fr auto 1fr auto;
  gap: 8px;
  align-items: center;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  border-bottom: 1px solid var(--line-soft);
}
li :deep(.el-checkbox__label) {
  font-size: 16px;
}
.soft {
  margin: 0;
  font-size: 15px;
  color: var(--text-soft);
}
@media (max-width: 820px) {
  .work {
    grid-template-columns: 1fr;
  }
}
</style>

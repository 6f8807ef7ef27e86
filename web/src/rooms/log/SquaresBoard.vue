<script setup lang="ts">
/** Squares to lay: the few that teach the most, one's own hand in a strip; printed, laid and photographed. */
import { ElCheckbox, ElSelect } from 'element-plus'
import { computed, onMounted, ref } from 'vue'

import { api, need, Refused, type NextSquares } from '@/shared/api'
import { saveFile } from '@/shared/files'
import { useStash } from '../stash/useStash'
import { useTable } from '../table/useTable'
import { useLog } from './useLog'
import { type Tool, toolSaid, toolWords } from '../../generated/words'

const emit = defineEmits<{ photo: [] }>()
const { atHand, cards, nameOf, attempt } = useStash()
const { bring } = useTable()
const { book, chosen, log, draftsOf, openSwatch, fetchBook } = useLog()

const next = ref<NextSquares | null>(null)
const looking = ref(false)
const inkId = ref<number>()
const cardId = ref<number>()
const tool = ref<Tool | 'water'>('brush')
const waiting = computed(() =>
  (book.value?.swatches ?? []).filter((each) => !each.sightings.length).sort((one, other) => one.id - other.id),
)
const toolChoices = computed(() => [
  ...toolWords.map((value) => ({ value: value as Tool | 'water', label: toolSaid[value] })),
  { value: 'water' as const, label: 'drops of water' },
])
const sheetHref = computed(() => `/api/log/sheet.pdf?${chosen.value.map((id) => `swatch=${id}`).join('&')}`)

onMounted(() => {
  inkId.value ??= atHand.value[0]?.id
  cardId.value ??= cards.value[0]?.id
  chosen.value = chosen.value.filter((id) => waiting.value.some((each) => each.id === id))
})

const find = (): Promise<boolean> => {
  looking.value = true
  return attempt(async () => {
    next.value = await need(api.POST('/api/log/next'))
  }).finally(() => (looking.value = false))
}
const take = (): Promise<boolean> =>
  attempt(async () => {
    if (!next.value) return
    chosen.value = (await log(next.value.swatches)).map((each) => each.id)
    next.value = null
  })
const strip = (): Promise<boolean> =>
  attempt(async () => {
    const how = tool.value === 'water' ? { tool: 'brush' as Tool, water: true } : { tool: tool.value, water: false }
    const drafts = await draftsOf({ strip: { ink_id: inkId.value ?? 0, ...how }, card_id: cardId.value ?? null })
    chosen.value = (await log(drafts)).map((each) => each.id)
  })
const pick = (id: number, on: boolean): void => {
  chosen.value = waiting.value.map((each) => each.id).filter((each) => (each === id ? on : chosen.value.includes(each)))
}
async function discardChosen(): Promise<void> {
  await attempt(async () => {
    const answer = await api.POST('/api/log/discard', { body: { swatches: chosen.value } })
    if (!answer.response.ok) throw new Refused('They could not be taken off the list.', answer.response.status)
    chosen.value = []
    await fetchBook()
  })
}
</script>

<template>
  <section class="squares">
    <div class="page">
      <h1>Squares to lay</h1>
      <p class="lead">
        The only test scrap I ever ask for. Print the sheet on your card, lay the squares, let them dry, photograph the
        whole sheet.
      </p>
      <section aria-label="Your hand in one strip">
        <h2>Your hand in one strip</h2>
        <p>One ink, laid once, twice, four and eight times. From then on “passes” means your passes.</p>
        <div class="fields">
          <label
            >Ink
            <ElSelect
              v-model="inkId"
              :options="atHand.map((ink) => ({ value: ink.id, label: nameOf(ink.id) }))"
              filterable
              aria-label="Ink of the strip"
          /></label>
          <label>Tool <ElSelect v-model="tool" :options="toolChoices" aria-label="Tool of the strip" /></label>
          <label
            >Card
            <ElSelect
              v-model="cardId"
              :options="cards.map((card) => ({ value: card.id, label: card.name }))"
              filterable
              aria-label="Card of the strip"
          /></label>
          <button type="button" class="deed" :disabled="!inkId" @click="strip">Put the strip on the list</button>
        </div>
      </section>
      <section aria-label="The squares that teach the most">
        <h2>The squares that teach the most</h2>
        <p>Of all that you own and plan: the few squares after which I would be least in doubt.</p>
        <button type="button" class="word framed" :disabled="looking" @click="find">
          {{ looking ? 'Looking …' : next ? 'Look again' : 'Find them' }}
        </button>
        <template v-if="next">
          <ol class="found">
            <li v-for="(text, n) in next.texts" :key="n">
              <b>{{ next.swatches[n]?.name }}</b> {{ text }}
            </li>
          </ol>
          <p v-if="!next.texts.length">There is nothing planned yet: lay an overlap or a panel first.</p>
          <button v-else type="button" class="deed" @click="take">Put them on the list</button>
        </template>
      </section>
    </div>
    <aside class="list">
      <h2>Waiting to be laid</h2>
      <p v-if="!waiting.length" class="soft">
        No square waits. Put some on the list, or log one from Overlap, Match or Panel.
      </p>
      <ul>
        <li v-for="each in waiting" :key="each.id">
          <ElCheckbox
            :model-value="chosen.includes(each.id)"
            @update:model-value="(on) => pick(each.id, Boolean(on))"
            >{{ each.item.name }}</ElCheckbox
          >
          <button type="button" class="word" @click="openSwatch(each.id)">Open</button>
        </li>
      </ul>
      <div v-if="waiting.length" class="do">
        <button
          type="button"
          class="word framed"
          :disabled="!chosen.length"
          @click="attempt(() => saveFile(sheetHref))"
        >
          Print a sheet of {{ chosen.length }} (PDF)
        </button>
        <button type="button" class="word framed" :disabled="!chosen.length" @click="bring('squares', chosen)">
          Lay them at the table
        </button>
        <button type="button" class="deed" :disabled="!chosen.length" @click="emit('photo')">Read their photo …</button>
        <button type="button" class="word framed" :disabled="!chosen.length" @click="discardChosen">
          Take them off the list
        </button>
      </div>
    </aside>
  </section>
</template>

<style scoped>
.squares {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 380px;
  gap: 18px;
  min-height: 0;
}
.page,
.list {
  min-height: 0;
  padding: 14px 20px;
  overflow-y: auto;
  background: var(--slip);
}
h1 {
  margin: 0;
  font: 640 28px/1.15 var(--colour-names);
}
h2 {
  margin: 16px 0 2px;
  font: 620 20px/1.2 var(--colour-names);
}
.list h2 {
  margin-top: 0;
}
p {
  max-width: 66ch;
  margin: 4px 0 8px;
}
.lead {
  font-size: 18px;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr auto;
  gap: 10px;
  align-items: end;
}
.fields label {
  display: grid;
  gap: 2px;
  min-width: 0;
  font-size: 15px;
}
.squares :deep(.el-select__wrapper) {
  min-height: 44px;
  font-size: 16px;
}
.found {
  display: grid;
  gap: 6px;
  padding-left: 24px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  min-width: 0;
}
.list li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  border-bottom: 1px solid var(--line-soft);
}
.list :deep(.el-checkbox) {
  height: auto;
  min-height: 42px;
}
.list :deep(.el-checkbox__label) {
  font-size: 16px;
  line-height: 1.2;
  white-space: normal;
}
.do {
  display: grid;
  gap: 8px;
  margin-top: 12px;
}
.soft {
  color: var(--text-soft);
}
@media (max-width: 1100px) {
  .squares {
    grid-template-columns: minmax(0, 1fr) 300px;
  }
  .fields {
    grid-template-columns: 1fr 1fr;
  }
}
@media (max-width: 820px) {
  .squares {
    grid-template-columns: 1fr;
  }
}
</style>

<script setup lang="ts">
/** The swatch book: what was really got beside what was guessed; what it teaches; what to lay next; practice. */
import { useLocalStorage, watchDebounced } from '@vueuse/core'
import { ElInput, ElSelect } from 'element-plus'
import { computed, onMounted, ref, watch } from 'vue'

import BoardTabs from '@/shared/BoardTabs.vue'
import TypedInput from '@/shared/TypedInput.vue'
import { choices } from '@/shared/choices'
import { saveFile } from '@/shared/files'
import { idIn, nameInAddress } from '@/shared/router'
import { useStash } from '../stash/useStash'
import AddSwatch from './AddSwatch.vue'
import GuessBoard from './GuessBoard.vue'
import LearnBoard from './LearnBoard.vue'
import LogPhoto from './LogPhoto.vue'
import SquaresBoard from './SquaresBoard.vue'
import SwatchSlip from './SwatchSlip.vue'
import SwatchTag from './SwatchTag.vue'
import { useLog } from './useLog'
import { bookOrderSaid, bookOrderWords, type OwnVerdict, ownVerdictSaid, ownVerdictWords } from '../../generated/words'

const { attempt, stash, fetchStash } = useStash()
const { book, open, sought, chosen, toLog, fetchBook, reread, openSwatch, discard } = useLog()

const boards = [
  { value: 'book', said: 'The book' },
  { value: 'learn', said: 'What it teaches' },
  { value: 'squares', said: 'Squares to lay' },
  { value: 'guess', said: 'Guess first' },
] as const
type Board = (typeof boards)[number]['value']
const board = useLocalStorage<Board>('wempa-log-board', 'book')
const adding = ref(false)
const reading = ref<number[] | null>(null)
const near = ref(sought.value.near)
const bad = ref('')

const orderChoices = choices(bookOrderWords, bookOrderSaid)
// A select shows nothing for an empty text.
const ANY = 'any'
const verdictChoices = [{ value: ANY, label: 'any verdict' }, ...choices(ownVerdictWords, ownVerdictSaid)]
const tagChoices = computed(() => [
  { value: ANY, label: 'any tag' },
  ...(book.value?.tags ?? []).map((tag) => ({ value: tag, label: tag })),
])
// In the order of the printed sheet.
const toRead = computed(() =>
  (reading.value ?? []).flatMap((id) => book.value?.swatches.find((each) => each.id === id) ?? []),
)
const narrowed = computed(() =>
  Boolean(
    sought.value.find || sought.value.near || sought.value.verdict || sought.value.tag || sought.value.favourites,
  ),
)

function seekColour(text: string): void {
  near.value = text.trim()
  const hex = near.value && !near.value.startsWith('#') ? `#${near.value}` : near.value
  bad.value = hex && !/^#[0-9a-f]{6}$/i.test(hex) ? `“${text.slice(0, 20)}” is no colour: type #8a6fb0.` : ''
  if (!bad.value) sought.value = { ...sought.value, near: hex }
}
function all(): void {
  near.value = ''
  sought.value = { order: sought.value.order, find: '', near: '', verdict: '', tag: '', favourites: false }
}
function away(): void {
  adding.value = false
  toLog.value = null
}
async function made(ids: number[], now: boolean): Promise<void> {
  away()
  board.value = ids.length > 1 ? 'squares' : 'book'
  chosen.value = ids
  if (ids[0]) await openSwatch(ids[0])
  if (now) await photograph(ids)
}
/** Read a photo of some swatches: all of the book is fetched, so that none of them is missing from it. */
async function photograph(ids: number[]): Promise<void> {
  if (narrowed.value) {
    all()
    await attempt(fetchBook)
  }
  reading.value = ids
}

watchDebounced(sought, () => void attempt(fetchBook), { debounce: 180, deep: true })
watch(
  () => open.value?.id,
  (id) => nameInAddress('log', id ?? 0),
)
watch(board, () => void attempt(fetchBook))
onMounted(async () => {
  if (!stash.value) await attempt(fetchStash)
  await attempt(reread)
  const asked = idIn('log')
  if (asked && asked !== open.value?.id) await openSwatch(asked)
})
</script>

<template>
  <main class="room">
    <div class="top">
      <BoardTabs
        of="log"
        :boards="boards"
        :at="board"
        label="Pages of the swatch book"
        class="tabs"
        @turn="(to) => (board = to)"
      />
      <button type="button" class="word framed" @click="adding = true">Log a swatch …</button>
    </div>
    <div
      v-if="board === 'book'"
      id="log-board"
      class="book"
      :class="{ opened: open }"
      role="tabpanel"
      aria-labelledby="log-tab-book"
    >
      <section class="pages">
        <div class="seek">
          <ElInput v-model="sought.find" placeholder="Find by words" clearable aria-label="Find by words" />
          <TypedInput
            :value="near"
            placeholder="near #8a6fb0"
            aria-label="Find near a colour, as #rrggbb"
            @typed="seekColour"
          />
          <ElSelect
            :model-value="sought.verdict || ANY"
            :options="verdictChoices"
            aria-label="Verdict"
            @update:model-value="(word: string) => (sought.verdict = word === ANY ? '' : (word as OwnVerdict))"
          />
          <ElSelect
            :model-value="sought.tag || ANY"
            :options="tagChoices"
            aria-label="Tag"
            @update:model-value="(tag: string) => (sought.tag = tag === ANY ? '' : tag)"
          />
          <button
            type="button"
            class="word framed"
            :aria-pressed="sought.favourites"
            @click="sought.favourites = !sought.favourites"
          >
            ♥ only
          </button>
          <ElSelect v-model="sought.order" :options="orderChoices" aria-label="Order of the book" />
        </div>
        <p v-if="bad" class="bad" role="alert">{{ bad }}</p>
        <p v-for="note in book?.drifts ?? []" :key="note.ink_id" class="drift">{{ note.text }}</p>
        <p v-for="each in book?.unreadable ?? []" :key="each.swatch_id" class="drift">
          {{ each.name }} cannot be read: {{ each.text }}
          <button type="button" class="word" @click="discard(each.swatch_id)">Take it out of the book</button>
        </p>
        <p v-if="narrowed && book" class="count">
          {{ book.swatches.length }} of {{ book.count }} swatches.
          <button type="button" class="word" @click="all">Show all</button>
        </p>
        <div v-if="book?.swatches.length" class="tags" role="group" aria-label="Swatches">
          <SwatchTag
            v-for="each in book.swatches"
            :key="each.id"
            :swatch="each"
            :open="open?.id === each.id"
            @open="openSwatch(each.id)"
          />
        </div>
        <div v-else-if="book && !book.count" class="empty">
          <h1>No swatch yet</h1>
          <p>
            Log what you lay: then you find it again, and the next guess is nearer. Begin with your hand in one strip.
          </p>
          <button type="button" class="word framed" @click="board = 'squares'">Lay the first squares</button>
        </div>
        <p v-else-if="book" class="empty">No swatch is like that.</p>
        <footer v-if="book?.count" class="out">
          The book as
          <button
            v-for="form in ['pdf', 'csv', 'json']"
            :key="form"
            type="button"
            class="word"
            @click="attempt(() => saveFile(`/api/log/book.${form}`))"
          >
            {{ { pdf: 'pages (PDF)', csv: 'a table (CSV)', json: 'observations (JSON)' }[form] }}
          </button>
        </footer>
      </section>
      <SwatchSlip v-if="open" :swatch="open" @photo="open && photograph([open.id])" />
    </div>
    <LearnBoard
      v-else-if="board === 'learn'"
      id="log-board"
      role="tabpanel"
      aria-labelledby="log-tab-learn"
      @open="board = 'book'"
    />
    <SquaresBoard
      v-else-if="board === 'squares'"
      id="log-board"
      role="tabpanel"
      aria-labelledby="log-tab-squares"
      @photo="photograph(chosen)"
    />
    <GuessBoard v-else id="log-board" role="tabpanel" aria-labelledby="log-tab-guess" />
    <AddSwatch v-if="adding || toLog" :asked="toLog" @close="away" @made="made" />
    <LogPhoto v-if="reading && toRead.length" :swatches="toRead" @close="reading = null" />
  </main>
</template>

<style scoped>
.room {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 10px;
  height: 100%;
  min-height: 0;
  padding: 0 14px 10px;
}
.top {
  display: flex;
  justify-content: space-between;
  gap: 20px;
}
.tabs {
  width: min(640px, 70%);
}
.seek :deep(.el-select__wrapper),
.seek :deep(.el-input__wrapper) {
  min-height: 42px;
  font-size: 16px;
}
.book {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 14px;
  min-height: 0;
}
.book.opened {
  grid-template-columns: minmax(0, 1fr) 400px;
}
.pages {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-height: 0;
  overflow-y: auto;
  padding: 3px;
}
.seek {
  display: grid;
  grid-template-columns: 1.4fr 1.3fr 1fr 1fr auto 1.2fr;
  gap: 8px;
}
.seek .word[aria-pressed='true'] {
  background: var(--strong);
  color: var(--on-strong);
}
.bad,
.drift,
.count {
  margin: 0;
}
.bad,
.drift {
  padding-left: 10px;
  border-left: 3px double var(--text);
}
.tags {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(168px, 1fr));
  gap: 10px;
}
.empty {
  max-width: 60ch;
  padding: 30px 10px;
}
.empty h1 {
  margin: 0;
  font: 640 28px/1.15 var(--colour-names);
}
.out {
  margin-top: auto;
  color: var(--text-soft);
  font-size: 15px;
}
@media (max-width: 1100px) {
  .book.opened {
    grid-template-columns: minmax(0, 1fr) 340px;
  }
  .seek {
    grid-template-columns: repeat(3, 1fr);
  }
}
@media (max-width: 820px) {
  .book.opened {
    grid-template-columns: 1fr;
  }
  .seek {
    grid-template-columns: 1fr 1fr;
  }
  .tabs {
    width: 100%;
  }
  .top {
    flex-wrap: wrap;
  }
}
</style>

<script setup lang="ts">
/** Guess first: two inks and a card; one says what will come of them, then it is told, with the reason. */
import { ElSelect } from 'element-plus'
import { computed, onMounted, ref } from 'vue'

import { api, need, type Guess, type Guessed } from '@/shared/api'
import MudGlass from '@/shared/MudGlass.vue'
import { useNewest } from '@/shared/newest'
import { useStash } from '../stash/useStash'
import { verdictKindSaid } from '../../generated/words'

const { cards, attempt } = useStash()
const asked = ref<Guess | null>(null)
const told = ref<Guessed | null>(null)
const said = ref<number | null>(null)
const cardId = ref(0)
const cardChoices = computed(() => [
  { value: 0, label: 'White card' },
  ...cards.value.map((card) => ({ value: card.id, label: card.name })),
])

const fetchGuess = useNewest(
  () => need(api.GET('/api/log/guess', { params: { query: cardId.value ? { card_id: cardId.value } : {} } })),
  (found) => {
    told.value = null
    said.value = null
    asked.value = found
  },
)
const ask = (): Promise<boolean> => attempt(fetchGuess)
const guess = (choice: number): Promise<boolean> =>
  attempt(
    async () => {
      if (!asked.value || told.value) return
      said.value = choice
      told.value = await need(api.POST('/api/log/guess', { body: { token: asked.value.token, choice } }))
    },
    async () => void (await ask()),
  )
const played = computed(() => told.value?.played ?? asked.value?.played ?? 0)
const right = computed(() => told.value?.rights ?? asked.value?.right ?? 0)

onMounted(ask)
</script>

<template>
  <section class="guess">
    <div class="page">
      <header>
        <h1>Guess first</h1>
        <label
          >on
          <ElSelect
            v-model="cardId"
            :options="cardChoices"
            filterable
            aria-label="Card of the practice"
            class="card-choice"
            @change="ask"
        /></label>
      </header>
      <template v-if="asked">
        <p class="lines">
          <span v-for="(line, n) in asked.lines" :key="n">{{ n ? ' Over it ' : 'First ' }}{{ line }}</span
          ><b v-if="asked.again">You missed this one before.</b>
        </p>
        <div class="sum" :style="{ backgroundColor: asked.card }">
          <figure v-for="(ink, n) in asked.inks" :key="n">
            <span :style="{ backgroundColor: ink.hex }"></span>
            <figcaption>{{ asked.names[n] }}</figcaption>
          </figure>
        </div>
        <p class="ask">
          {{
            told ? (told.right ? 'Right.' : `It is another: you ${told.said}.`) : 'What will you see where both lie?'
          }}
        </p>
        <div class="choices" role="group" aria-label="What will it be">
          <button
            v-for="(choice, n) in asked.choices"
            :key="n"
            type="button"
            :disabled="Boolean(told)"
            :class="{ answer: told?.answer === n, said: said === n }"
            :aria-label="choice.words"
            :style="{ '--card': asked.card }"
            @click="guess(n)"
          >
            <span class="drop" :style="{ backgroundColor: choice.hex }"></span
            ><span>{{
              told?.answer === n ? `✓ ${choice.words}` : said === n ? `you: ${choice.words}` : choice.words
            }}</span>
          </button>
          <button
            type="button"
            :disabled="Boolean(told)"
            :class="{ answer: told?.answer === asked.choices.length, said: said === asked.choices.length }"
            :style="{ '--card': asked.card }"
            @click="guess(asked.choices.length)"
          >
            <span class="drop glass"><MudGlass :mud="80" :line="50" :size="46" /></span
            ><span>{{ told?.answer === asked.choices.length ? '✓ mud' : 'mud' }}</span>
          </button>
        </div>
        <div v-if="told" class="told">
          <span class="result" :style="{ backgroundColor: told.hex }" :aria-label="told.words"></span>
          <div>
            <p>
              <b>{{ told.words }}: {{ verdictKindSaid[told.kind].toLowerCase() }}.</b>
            </p>
            <p v-for="reason in told.reasons" :key="reason.text">{{ reason.text }}</p>
            <p v-if="told.real">
              You have laid it: it came out {{ told.real.sightings.at(-1)?.words }},
              {{ told.real.sightings.at(-1)?.differs }}.
            </p>
          </div>
          <button type="button" class="deed" @click="ask">The next one</button>
        </div>
      </template>
    </div>
    <aside class="score">
      <h2>How it goes</h2>
      <p class="count">
        <b>{{ right }}</b> of {{ played }} right
      </p>
      <p v-if="!played" class="soft">What you miss comes again after a few others.</p>
      <template v-if="told?.mistakes.length">
        <h2>What goes wrong</h2>
        <p v-for="each in told.mistakes" :key="each.code">{{ each.text }}</p>
      </template>
    </aside>
  </section>
</template>

<style scoped>
.guess {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 280px;
  gap: 18px;
  min-height: 0;
}
.page,
.score {
  min-height: 0;
  padding: 14px 20px;
  overflow-y: auto;
  background: var(--slip);
}
header {
  display: flex;
  align-items: center;
  gap: 16px;
}
header label {
  display: flex;
  align-items: center;
  gap: 8px;
}
.card-choice {
  width: 220px;
}
.card-choice :deep(.el-select__wrapper) {
  min-height: 42px;
  font-size: 16px;
}
h1 {
  margin: 0;
  font: 640 28px/1.15 var(--colour-names);
}
h2 {
  margin: 0 0 4px;
  font: 620 20px/1.2 var(--colour-names);
}
.lines {
  margin: 6px 0 8px;
  font-size: 18px;
}
.sum {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 24px;
  max-width: 760px;
  padding: 18px 26px;
  clip-path: polygon(0 0, calc(100% - 20px) 0, 100% 20px, 100% 100%, 0 100%);
}
figure {
  display: grid;
  gap: 4px;
  margin: 0;
}
figure span {
  height: 78px;
}
figcaption {
  padding: 0 6px;
  justify-self: start;
  background: rgb(255 255 255 / 80%);
  color: #111;
  font: 600 18px/1.3 var(--colour-names);
}
.ask {
  margin: 12px 0 6px;
  font: 600 20px/1.2 var(--colour-names);
}
.choices {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: 1fr;
  gap: 10px;
  max-width: 860px;
}
.choices button {
  display: grid;
  gap: 4px;
  padding: 5px 5px 7px;
  border: 3px solid transparent;
  border-radius: 4px;
  background: var(--raised);
  cursor: pointer;
}
.choices button:not(:disabled):hover {
  border-color: var(--line);
}
.choices button.said {
  border: 3px dashed var(--text);
}
.choices button.answer {
  border: 3px solid var(--text);
}
.drop {
  height: 92px;
  border: 12px solid var(--card);
}
.glass {
  /* It stands on card, which stays light on a dark table. */
  --text: #171717;
  --slip: #ffffff;
  display: grid;
  place-content: center;
  background: var(--card);
  color: #171717;
}
.told {
  display: grid;
  grid-template-columns: 120px minmax(0, 1fr) auto;
  gap: 16px;
  align-items: start;
  max-width: 860px;
  margin-top: 12px;
}
.told p {
  margin: 0 0 2px;
}
.result {
  height: 84px;
}
.count {
  margin: 0 0 12px;
  font-size: 20px;
}
.score p {
  margin: 0 0 6px;
}
.soft {
  color: var(--text-soft);
}
@media (max-width: 820px) {
  .guess {
    grid-template-columns: 1fr;
  }
  .choices {
    grid-auto-flow: row;
  }
}
</style>

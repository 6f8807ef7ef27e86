<script setup lang="ts">
/** The match: which inks of the stash make a wanted colour, and which colours can be made already. */
import { until, useLocalStorage } from '@vueuse/core'
import { ElCheckbox, ElProgress, ElSelect } from 'element-plus'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue'

import { api, need, type Crossing, type MatchAnswer } from '@/shared/api'
import { readColour } from '@/shared/colour'
import { saveFile } from '@/shared/files'
import BoardTabs from '@/shared/BoardTabs.vue'
import PhotoPick from './PhotoPick.vue'
import TypedInput from '@/shared/TypedInput.vue'
import { useOverlap } from '../overlap/useOverlap'
import { useMatch } from './useMatch'
import { useLog } from '../log/useLog'
import { useStash } from '../stash/useStash'
import { usePanel } from '../panels/usePanel'
import { type Standing, standingSaid, standingWords, verdictKindSaid } from '../../generated/words'
import { entryNames, joined } from '@/shared/names'

const { cards, inks, inkOf, atHand, nameOf, attempt } = useStash()
const { ofSet } = usePanel()
const { logIt } = useLog()
const {
  asked,
  line,
  searching,
  cancelled,
  reserve,
  listing,
  light,
  printHref,
  find,
  cancel,
  fetchReserve,
  stopListing,
} = useMatch()
const { goTo, overlaps, fetchOverlaps, ownLine, loading } = useOverlap()

const boards = [
  { value: 'find', said: 'One colour' },
  { value: 'reserve', said: 'What I can make' },
] as const
const board = useLocalStorage<'find' | 'reserve'>('wempa-match-board', 'find')
const picking = ref(false)
const bad = ref('')
const spots = ref<{ value: string; label: string }[]>([])
const chosenStanding = ref<Standing[]>([...standingWords])

const typed = computed(() => {
  const colour = asked.value.target.colour
  return colour?.hex ?? colour?.lab?.join(' ') ?? ''
})
const wantedName = computed(() => asked.value.name || typed.value)
const cardChoices = computed(() => [
  { value: 0, label: 'White card' },
  ...cards.value.map((card) => ({ value: card.id, label: card.name })),
])
const startChoices = computed(() => [
  { value: 0, label: 'Bare card' },
  ...overlaps.value.map((each) => ({ value: each.id, label: `Over “${each.name}”` })),
])
const inkChoices = computed(() =>
  inks.value.map((ink) => ({
    value: ink.id,
    label: `${nameOf(ink.id)}${ink.item.standing === 'owned' ? '' : `, ${standingSaid[ink.item.standing ?? 'owned']}`}`,
  })),
)
const cardHex = computed(() => cards.value.find((card) => card.id === asked.value.card)?.hex ?? '#f8f7f4')

function want(target: typeof asked.value.target, name = ''): void {
  asked.value.target = target
  asked.value.name = name
  void find()
}
function type(text: string): void {
  const colour = readColour(text)
  bad.value = colour ? '' : `“${text.slice(0, 40)}” is no colour: type #8a6fb0, or L a b as 55.2 20.1 -30.5.`
  if (colour) want({ colour })
}
function wantInk(id: number): void {
  // An ink that is looked for is not at hand for it.
  if (!asked.value.without.includes(id)) asked.value.without = [id]
  want({ ink_id: id }, nameOf(id))
}
const spotOf = ref<number | null>(null)
async function openSpots(id: number): Promise<void> {
  spotOf.value = id
  await attempt(async () => {
    const found = await need(api.GET('/api/overlaps/{item_id}', { params: { path: { item_id: id } } }))
    const names = entryNames(found.overlap.stack, inks.value).filter((_, n) => !found.overlap.stack[n]?.treatment)
    const pairs = (found.crossing as Crossing).pairs.map((pair) => ({
      value: `${pair.below}-${pair.above}`,
      label: `${names[pair.above]} over ${names[pair.below]}`,
    }))
    spots.value = [{ value: 'full', label: 'All of it' }, ...pairs]
    want({ overlap_id: id }, found.overlap.name)
  })
}
function wantSpot(spot: string): void {
  if (spotOf.value === null) return
  const [below, above] = spot.split('-').map(Number)
  const name = overlaps.value.find((each) => each.id === spotOf.value)?.name ?? ''
  if (spot === 'full') want({ overlap_id: spotOf.value }, name)
  else
    want(
      { overlap_id: spotOf.value, below, above },
      `${spots.value.find((each) => each.value === spot)?.label} in ${name}`,
    )
}

/** Store the answer as an overlap of its own and go to it. */
const toOverlap = (answer: MatchAnswer, name: string, onStart = true): Promise<boolean> =>
  attempt(async () => {
    const { start, card } = asked.value
    const settings = { illuminant: light.value, mud_line: ownLine.value, constants: {} }
    const body = {
      name: name.slice(0, 200),
      stack: answer.stack,
      start: onStart ? start : null,
      card_id: card,
      settings,
    }
    await goTo(await need(api.POST('/api/match/overlap', { body })))
    await fetchOverlaps()
  })

/** The inks of an answer as bands, laid as it lays them. */
const bandsOf = (answer: MatchAnswer): { ink_id: number }[] =>
  answer.stack.flatMap(({ ink_id, tool, load, passes, dose }) =>
    ink_id ? [{ ink_id, ...(dose ? { dose } : { tool, load, passes }) }] : [],
  )

/** A square of an answer, to be laid and photographed. */
const squareOf = (answer: MatchAnswer) =>
  answer.stack.flatMap(({ ink_id, tool, load, passes, over }) => (ink_id ? [{ ink_id, tool, load, passes, over }] : []))

const shownReserve = computed(() =>
  reserve.value.filter((row) => chosenStanding.value.includes(inkOf.value.get(row.ink_id)?.item.standing ?? 'owned')),
)
const madeCount = computed(() => shownReserve.value.filter((row) => row.made).length)
const far = computed(() => {
  const answers = line.value?.answers ?? []
  return answers.length ? Math.min(...answers.map((each) => each.delta_e)) : null
})
const proof = computed(() => {
  const now = line.value
  if (!now || now.best === null || now.best === undefined) return ''
  const stacks = (now.stacks ?? 0).toLocaleString('en-GB')
  const bound = now.bound ?? 0
  const whole = `${stacks} ways of up to ${asked.value.most} layers in three amounts each`
  if (now.state !== 'done') return `Looking through ${whole} …`
  return now.best - bound < 0.02
    ? `Of ${whole} none comes nearer: that is proven. Single passes were then tried around the best.`
    : `Of ${whole} these come nearest; one may come a little nearer still.`
})
const figures = computed(() => {
  const now = line.value
  if (!now || now.best === null || now.best === undefined || now.state !== 'done') return ''
  return `Nearest of those ${now.best.toFixed(1)} ΔE00, none nearer than ${(now.bound ?? 0).toFixed(1)} (proven); with single passes ${(far.value ?? now.best).toFixed(1)}.`
})
const inexact = computed(() => line.value?.state === 'done' && (line.value.best ?? 0) - (line.value.bound ?? 0) > 0.02)

watch(
  () => [asked.value.card, asked.value.start, asked.value.most, asked.value.thin, asked.value.without, light.value],
  () => mounted && (board.value === 'find' ? void find() : void fetchReserve()),
)
watch(board, (now) => (now === 'find' ? (stopListing(), void find()) : (cancel(), void fetchReserve())))
// Until the stash is there nothing is known to be wrong or right with what was asked last.
let mounted = false
onMounted(async () => {
  await until(loading).toBe(false)
  await attempt(fetchOverlaps)
  if (asked.value.start !== null && !overlaps.value.some((each) => each.id === asked.value.start))
    asked.value.start = null
  if (asked.value.card !== null && !cards.value.some((card) => card.id === asked.value.card)) asked.value.card = null
  if (asked.value.without.some((id) => !inkOf.value.has(id)))
    asked.value.without = asked.value.without.filter((id) => inkOf.value.has(id))
  await nextTick()
  mounted = true
  if (!atHand.value.length) return
  if (board.value === 'reserve') void fetchReserve()
  else if (!line.value) void find()
})
onBeforeUnmount(() => {
  if (searching.value) cancel()
  stopListing()
})
</script>

<template>
  <main v-if="atHand.length" class="room">
    <aside class="wanted">
      <BoardTabs of="match" :boards="boards" :at="board" label="What to look for" @turn="(to) => (board = to)" />
      <label class="field"
        >Card
        <ElSelect
          :model-value="asked.card ?? 0"
          :options="cardChoices"
          filterable
          aria-label="Card"
          :disabled="board === 'find' && asked.start !== null"
          @update:model-value="(id: number) => (asked.card = id || null)"
      /></label>
      <template v-if="board === 'find'">
        <h2>The colour wanted</h2>
        <label class="field"
          >Typed
          <TypedInput
            :value="typed"
            aria-label="Colour wanted, as #rrggbb or L a b"
            placeholder="#8a6fb0"
            @typed="type"
        /></label>
        <p v-if="bad" class="bad" role="alert">{{ bad }}</p>
        <button type="button" class="word" @click="picking = true">Off a photo …</button>
        <label class="field"
          >An ink, used up or wanted
          <ElSelect
            :model-value="asked.target.ink_id ?? undefined"
            :options="inkChoices"
            filterable
            placeholder="Choose an ink"
            aria-label="Ink to be matched"
            @update:model-value="wantInk"
        /></label>
        <label class="field"
          >A spot on an overlap
          <ElSelect
            :model-value="asked.target.overlap_id ?? undefined"
            :options="overlaps.map((each) => ({ value: each.id, label: each.name }))"
            placeholder="Choose an overlap"
            aria-label="Overlap to be matched"
            @update:model-value="openSpots"
        /></label>
        <ElSelect
          v-if="asked.target.overlap_id && spots.length"
          :model-value="
            asked.target.below === undefined || asked.target.below === null
              ? 'full'
              : `${asked.target.below}-${asked.target.above}`
          "
          :options="spots"
          aria-label="Spot"
          @update:model-value="wantSpot"
        />
        <h2>From</h2>
        <ElSelect
          :model-value="asked.start ?? 0"
          :options="startChoices"
          aria-label="What lies there already"
          @update:model-value="(id: number) => (asked.start = id || null)"
        />
        <span class="field">Layers</span>
        <div class="few" role="group" aria-label="Layers at most">
          <button
            v-for="count in [1, 2, 3]"
            :key="count"
            type="button"
            class="word"
            :aria-pressed="asked.most === count"
            @click="asked.most = count"
          >
            {{ count === 1 ? 'only 1' : `up to ${count}` }}
          </button>
        </div>
        <ElCheckbox v-model="asked.thin">Inks may be thinned with water</ElCheckbox>
        <label class="field"
          >Leave out
          <ElSelect
            v-model="asked.without"
            :options="atHand.map((ink) => ({ value: ink.id, label: nameOf(ink.id) }))"
            multiple
            filterable
            collapse-tags
            placeholder="no ink"
            aria-label="Inks to leave out"
        /></label>
      </template>
      <template v-else>
        <h2>Of the inks that are</h2>
        <ElCheckbox
          v-for="standing in standingWords"
          :key="standing"
          :model-value="chosenStanding.includes(standing)"
          @update:model-value="
            (on) =>
              (chosenStanding = on ? [...chosenStanding, standing] : chosenStanding.filter((each) => each !== standing))
          "
          >{{ standingSaid[standing] }}</ElCheckbox
        >
        <button type="button" class="word print" @click="attempt(() => saveFile(printHref))">
          Print the list (PDF)
        </button>
      </template>
    </aside>

    <section v-if="board === 'find'" id="match-board" class="found" role="tabpanel" aria-labelledby="match-tab-find">
      <header>
        <div class="state" role="status">
          <template v-if="searching">
            <span>{{ line?.state === 'working' ? 'Looking …' : 'Waiting for its turn …' }}</span>
            <ElProgress
              :percentage="line?.state === 'working' ? Math.round(100 * line.done) : 0"
              :stroke-width="10"
              :show-text="false"
              class="bar"
              aria-label="How far the search is"
            />
            <button type="button" class="word" @click="cancel">Cancel</button>
          </template>
          <p v-else-if="cancelled">
            The search was cancelled. <button type="button" class="word" @click="find()">Look again</button>
          </p>
          <template v-else-if="line?.state === 'done'">
            <h1 v-if="line.reached">{{ wantedName }}: yours make it</h1>
            <h1 v-else>{{ wantedName }} is out of reach; these come nearest</h1>
          </template>
        </div>
        <p class="proof">
          {{ proof }}
          <button v-if="inexact" type="button" class="word" @click="find(true)">Look to the very end</button>
        </p>
        <details v-if="figures" class="figures">
          <summary>The figures</summary>
          {{ figures }}
        </details>
      </header>
      <ol class="answers" :style="{ '--card': cardHex }">
        <li v-for="(answer, k) in line?.answers ?? []" :key="k" :class="{ first: k === 0 }">
          <div class="beside" aria-hidden="true">
            <span :style="{ backgroundColor: line?.target }"></span
            ><span :style="{ backgroundColor: answer.look.colour.hex }"></span>
          </div>
          <div class="told">
            <h2>{{ joined(answer.inks.map(nameOf)) }}</h2>
            <p class="how">
              {{ answer.beside }} the colour wanted, {{ answer.look.closeness
              }}{{
                answer.look.verdict.kind === 'clean'
                  ? ''
                  : `; ${verdictKindSaid[answer.look.verdict.kind].toLowerCase()}`
              }}
            </p>
            <ol class="lines">
              <li v-for="text in answer.lines" :key="text">{{ text }}</li>
            </ol>
            <details class="figures">
              <summary>The figures</summary>
              {{ answer.delta_e.toFixed(1) }} ΔE00 from it, ±{{ answer.look.margin.toFixed(1) }}
            </details>
          </div>
          <div class="leads">
            <button
              type="button"
              class="word"
              :aria-label="`Open ${joined(answer.inks.map(nameOf))} in Overlap`"
              @click="toOverlap(answer, `${wantedName} from ${joined(answer.inks.map(nameOf))}`)"
            >
              Open in Overlap
            </button>
            <button
              type="button"
              class="word"
              :aria-label="`Make ${joined(answer.inks.map(nameOf))} a panel`"
              @click="ofSet(bandsOf(answer), `${wantedName} and what makes it`, asked.card)"
            >
              Make it a panel
            </button>
            <button
              v-if="asked.start === null"
              type="button"
              class="word"
              :aria-label="`Log a square of ${joined(answer.inks.map(nameOf))}`"
              @click="logIt({ stack: squareOf(answer), card_id: asked.card, name: `${wantedName}, tried` })"
            >
              Log a square
            </button>
          </div>
        </li>
      </ol>
    </section>

    <section v-else id="match-board" class="found" role="tabpanel" aria-labelledby="match-tab-reserve">
      <header>
        <h1>{{ madeCount }} of {{ shownReserve.length }} colours can be made from the others</h1>
        <p class="proof" role="status">
          {{
            listing
              ? `Looking: ${reserve.length} of ${inks.length} inks …`
              : 'Kept for as long as the stash stays as it is.'
          }}
        </p>
        <ElProgress
          v-if="listing"
          :percentage="Math.round((100 * reserve.length) / Math.max(1, inks.length))"
          :stroke-width="10"
          :show-text="false"
          class="bar"
          aria-label="How many inks are looked through"
        />
      </header>
      <ul class="reserve">
        <li v-for="row in shownReserve" :key="row.ink_id">
          <span class="beside" aria-hidden="true"
            ><span :style="{ backgroundColor: row.target }"></span
            ><span :style="{ backgroundColor: row.answer?.look.colour.hex ?? 'transparent' }"></span
          ></span>
          <span class="who"
            ><b>{{ nameOf(row.ink_id) }}</b> {{ standingSaid[inkOf.get(row.ink_id)?.item.standing ?? 'owned'] }}</span
          >
          <span class="how">
            <template v-if="row.answer">
              <b>{{ row.made ? 'stands in' : 'not near enough' }}</b>, {{ row.answer.look.closeness }}
            </template>
            <template v-else>nothing to make it from</template>
            <template v-if="row.laid?.length">; you found {{ joined(row.laid) }} very like it</template>
          </span>
          <span class="lines">{{ row.answer?.lines.join(' ') }}</span>
          <button
            v-if="row.answer"
            type="button"
            class="word"
            :aria-label="`Open ${nameOf(row.ink_id)} from the others in Overlap`"
            @click="toOverlap(row.answer, `${nameOf(row.ink_id)} from the others`, false)"
          >
            Open
          </button>
        </li>
      </ul>
    </section>
    <PhotoPick
      v-if="picking"
      @close="picking = false"
      @picked="(colour, hex) => ((picking = false), want({ colour }, `${hex}, off a photo`))"
    />
  </main>
  <main v-else class="empty">
    <h1>Nothing to match with yet</h1>
    <p>A match is made from the inks you own.</p>
    <a href="#/stash">Put inks on the shelf</a>
  </main>
</template>

<style scoped src="./MatchView.css"></style>

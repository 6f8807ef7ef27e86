<script setup lang="ts">
/** The chart: which inks go together on one card, laid down in one way. */
import { onKeyStroke, until, useElementSize, useLocalStorage, watchDebounced } from '@vueuse/core'
import { ElCheckbox, ElDropdown, ElDropdownItem, ElDropdownMenu, ElSelect } from 'element-plus'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'

import { useNewest } from '@/shared/newest'
import NumberBox from '@/shared/NumberBox.vue'
import { api, need, type Cell } from '@/shared/api'
import BoardTabs from '@/shared/BoardTabs.vue'
import AloneList from './AloneList.vue'
import BandStrip from './BandStrip.vue'
import ChartSheet from './ChartSheet.vue'
import HeroSheet from './HeroSheet.vue'
import VerdictMark from './VerdictMark.vue'
import MudGlass from '@/shared/MudGlass.vue'
import { useChart } from './useChart'
import { useOverlap } from '../overlap/useOverlap'
import { useStash } from '../stash/useStash'
import { usePanel } from '../panels/usePanel'
import {
  type Blend,
  DEFAULT_MUD_LINE,
  blendSaid,
  blendWords,
  chartOrderSaid,
  chartOrderWords,
  standingSaid,
  toolSaid,
  toolWords,
  verdictKindSaid,
  verdictKindWords,
} from '../../generated/words'
import { saveFile } from '@/shared/files'
import { isCommand, nextOf } from '@/shared/keys'
import { choices } from '@/shared/choices'

const { cards, inks, nameOf, attempt } = useStash()
const { ofSet } = usePanel()
const {
  asked,
  chart,
  study,
  company,
  working,
  order,
  hero,
  owned,
  ranges,
  body,
  fetchChart,
  fetchCompany,
  cellAt,
  fileHref,
} = useChart()
const { goTo, fetchOverlaps, overlap, loading } = useOverlap()

const orders = choices(chartOrderWords, chartOrderSaid)
const n = computed(() => chart.value?.head.inks.length ?? 0)
const boards = [
  { value: 'mix', said: 'This mix' },
  { value: 'alone', said: 'This card' },
  { value: 'company', said: 'Good company' },
  { value: 'best', said: 'The stash' },
] as const
type BoardName = (typeof boards)[number]['value']
const board = useLocalStorage<BoardName>('wempa-chart-board', 'mix')
const blend = useLocalStorage<Blend>('wempa-blend', 'rainbow')
const different = useLocalStorage('wempa-different', 8)
/** Side of a swatch on screen; 0 fits all inks across. */
const zoom = useLocalStorage('wempa-chart-zoom', 0)
const mat = ref<HTMLElement | null>(null)
const { width: room } = useElementSize(mat)
const size = computed(
  () => zoom.value || Math.max(12, Math.min(44, Math.floor((room.value - 150) / Math.max(1, n.value)))),
)
const picked = ref<[number, number] | null>(null)
const cell = shallowRef<Cell | null>(null)

const names = computed(() => chart.value?.head.inks.map(nameOf) ?? [])
const heroPlace = computed(() => (hero.value === null ? -1 : (chart.value?.head.inks.indexOf(hero.value) ?? -1)))
const cardName = computed(() => cards.value.find((card) => card.id === asked.value.card)?.name ?? 'White card')

const same = computed(() => study.value?.head.same ?? 0)
const hidden = computed(() => {
  const now = chart.value
  const gone = new Uint8Array(n.value ** 2)
  if (!now) return gone
  const muddy = now.head.kinds.indexOf('muddy')
  const { hideMud, onlyNew, oneOfEach } = asked.value
  for (let at = 0; at < gone.length; at++) {
    const fresh = study.value ? (study.value.fresh[at] ?? 0) / 4 : 99
    if (hideMud && now.kind[at] === muddy) gone[at] = 1
    if (onlyNew && fresh < same.value) gone[at] = 1
    if (oneOfEach && study.value && study.value.leader[at] !== at) gone[at] = 1
  }
  return gone
})
const left = computed(() => hidden.value.reduce((sum, gone) => sum + 1 - gone, 0))
const ranked = computed(() => {
  const now = chart.value
  const counts = study.value?.head.ranked
  if (!now || !counts) return []
  return now.head.inks
    .map((id, k) => ({ id, place: k, name: names.value[k] ?? '', hex: now.head.alone[k], count: counts[k] ?? 0 }))
    .sort((a, b) => b.count - a.count)
})
const mostDifferent = computed(() =>
  (study.value?.head.different ?? []).slice(0, different.value).map((at) => {
    const [below, above] = [Math.floor(at / n.value), at % n.value] as [number, number]
    const rgb = [0, 1, 2].map((i) => chart.value?.rgb[3 * at + i] ?? 0)
    return {
      cell: [below, above] as [number, number],
      colour: `rgb(${rgb.join(' ')})`,
      said: `${names.value[above]} over ${names.value[below]}`,
    }
  }),
)

const fetchCell = useNewest(
  async () => {
    const [below, above] = (picked.value ?? []).map((place) => chart.value?.head.inks[place])
    return below === undefined || above === undefined ? null : cellAt(below, above)
  },
  (found) => (cell.value = found),
)
watchDebounced([picked, body], () => attempt(fetchCell), { debounce: 90 })
// Laid down in another way it is another mix.
watch(body, () => (cell.value = null))
function pick(at: [number, number]): void {
  picked.value = at
  board.value = 'mix'
}
watch(chart, (now) => {
  if (picked.value && Math.max(...picked.value) >= (now?.head.inks.length ?? 0)) picked.value = null
})
watch(
  () => [board.value, blend.value, hero.value, chart.value],
  () => board.value === 'company' && chart.value && void fetchCompany(blend.value),
)

/** Store inks laid over one another as the chart lays them, and go there. */
const toOverlap = (name: string, ids: readonly number[]): Promise<boolean> =>
  attempt(async () => {
    await goTo(
      await need(api.POST('/api/chart/overlap', { body: { ...body.value, name: name.slice(0, 200), set: [...ids] } })),
    )
    await fetchOverlaps()
  })
/** Whether what is told beside the chart is about the mix that is picked. */
const isTold = computed(
  () =>
    picked.value?.map((place) => chart.value?.head.inks[place]).join() ===
    cell.value?.stack.map((entry) => entry.ink_id).join(),
)
async function openCell(): Promise<void> {
  const at = picked.value
  const [below, above] = (at ?? []).map((place) => chart.value?.head.inks[place])
  if (!at || below === undefined || above === undefined) return
  await toOverlap(`${names.value[at[1]]} over ${names.value[at[0]]}`, [below, above])
}
/** The set as a panel, its bands as the set stands, laid as the chart lays them. */
function toPanel(ids: readonly number[]): void {
  const { tool, passes } = asked.value
  const bands = ids.map((ink_id) => ({ ink_id, ...(tool === 'usual' ? {} : { tool, passes }) }))
  void ofSet(bands, [...new Set(ids)].map(nameOf).join(', '), asked.value.card)
}
const openSet = (ids: readonly number[]): void => void toOverlap([...new Set(ids)].map(nameOf).join(', '), ids)
const colours = (set: { inks: number[]; colours: number }): string =>
  `${new Set(set.inks).size} inks, ${set.colours} colours`
const closes = (set: { inks: number[] }): boolean => set.inks.length > 2 && set.inks[0] === set.inks.at(-1)

const files = computed(() => {
  const ids = order.value.map((place) => chart.value?.head.inks[place] ?? 0)
  return [
    { href: fileHref('pdf', false, ids), said: 'Predicted, pages at real size (PDF)' },
    { href: fileHref('pdf', true, ids), said: 'Blank, to ink by hand (PDF)' },
    { href: fileHref('svg', false, ids), said: 'Predicted, one drawing (SVG)' },
    { href: fileHref('svg', true, ids), said: 'Blank, one drawing (SVG)' },
    { href: fileHref('csv', false, ids), said: 'Every mix as a table (CSV)' },
    { href: fileHref('json', false, ids), said: 'Every mix as JSON' },
  ]
})
const save = (href: string): unknown => attempt(() => saveFile(href))
const keys: Record<string, () => unknown> = {
  '+': () => (zoom.value = Math.min(56, size.value + 3)),
  '=': () => (zoom.value = Math.min(56, size.value + 3)),
  '-': () => (zoom.value = Math.max(8, size.value - 3)),
  m: () => (asked.value.hideMud = !asked.value.hideMud),
  w: () => (asked.value.over = asked.value.over === 'wet' ? 'dry' : 'wet'),
  v: () => (board.value = nextOf(boards, board.value)),
}
onKeyStroke(Object.keys(keys), (event) => {
  if (!isCommand(event)) return
  event.preventDefault()
  keys[event.key]?.()
})
const cardChoices = computed(() => [
  { value: 0, label: 'White card' },
  ...cards.value.map((card) => ({ value: card.id, label: card.name })),
])
// Owned ones first, then those that are wished for, used up or only known.
const heroChoices = computed(() => [
  { value: 0, label: 'Every ink' },
  ...[...inks.value]
    .sort((a, b) => Number(b.item.standing === 'owned') - Number(a.item.standing === 'owned'))
    .map((ink) => ({
      value: ink.id,
      label:
        ink.item.standing === 'owned'
          ? nameOf(ink.id)
          : `${nameOf(ink.id)}, ${standingSaid[ink.item.standing ?? 'owned'].toLowerCase()}`,
    })),
])
const tools = computed(() => [{ value: 'usual', label: 'usual tool of each' }, ...choices(toolWords, toolSaid)])
const within = computed({
  get: () => ranges.value.filter((range) => !asked.value.without.includes(range)),
  set: (kept: string[]) => (asked.value.without = ranges.value.filter((range) => !kept.includes(range))),
})
onMounted(async () => {
  await until(loading).toBe(false)
  if (asked.value.card === null && overlap.value?.card_id) asked.value.card = overlap.value.card_id
  if (asked.value.card && !cards.value.some((card) => card.id === asked.value.card)) asked.value.card = null
  await fetchChart()
  if (board.value === 'company') await fetchCompany(blend.value)
})
</script>

<template>
  <main v-if="owned.length" class="room">
    <div class="setup">
      <ElSelect
        :model-value="asked.card ?? 0"
        :options="cardChoices"
        filterable
        aria-label="Card"
        class="card"
        @update:model-value="(id: number) => (asked.card = id || null)"
      />
      <ElSelect
        :model-value="hero ?? 0"
        :options="heroChoices"
        filterable
        aria-label="Ink to look at"
        class="one"
        @update:model-value="(id: number) => (hero = id || null)"
      />
      <span class="way">
        <ElSelect v-model="asked.tool" :options="tools" aria-label="Tool" class="tool" />
        <NumberBox v-if="asked.tool !== 'usual'" v-model="asked.passes" :min="1" :max="60" aria-label="Passes" />
        <span v-if="asked.tool !== 'usual'">passes</span>
      </span>
      <span class="joined" role="group" aria-label="How the second one goes on">
        <button
          type="button"
          class="word"
          :aria-pressed="asked.over === 'dry'"
          title="Wet or dry (W)"
          @click="asked.over = 'dry'"
        >
          Dried between
        </button>
        <button
          type="button"
          class="word"
          :aria-pressed="asked.over === 'wet'"
          title="Wet or dry (W)"
          @click="asked.over = 'wet'"
        >
          Mixed wet
        </button>
      </span>
      <span class="zoom" role="group" aria-label="Size of the swatches">
        <button type="button" class="word" aria-label="Smaller swatches" title="Smaller (-)" @click="keys['-']?.()">
          −
        </button>
        <button type="button" class="word" aria-label="Larger swatches" title="Larger (+)" @click="keys['+']?.()">
          +
        </button>
        <button type="button" class="word" :aria-pressed="zoom === 0" @click="zoom = 0">Fit</button>
      </span>
      <ElDropdown trigger="click" @command="save">
        <button type="button" class="word">Export and print ▾</button>
        <template #dropdown>
          <ElDropdownMenu>
            <ElDropdownItem v-for="file in files" :key="file.said" :command="file.href">{{ file.said }}</ElDropdownItem>
          </ElDropdownMenu>
        </template>
      </ElDropdown>
    </div>
    <div class="sift">
      <ElSelect v-model="asked.order" :options="orders" aria-label="Order" class="order" />
      <ElSelect
        v-model="within"
        :options="ranges.map((range) => ({ value: range, label: range || 'No range' }))"
        multiple
        collapse-tags
        collapse-tags-tooltip
        placeholder="No range"
        aria-label="Ranges"
        class="ranges"
      />
      <ElCheckbox v-model="asked.hideMud" title="Key M">Hide mud</ElCheckbox>
      <ElCheckbox v-model="asked.onlyNew">Only new colours</ElCheckbox>
      <ElCheckbox v-model="asked.oneOfEach">One of each look</ElCheckbox>
      <ElCheckbox v-model="asked.goodPads">Pads in good order</ElCheckbox>
      <span class="count" role="status">{{
        working ? 'Working …' : `${left.toLocaleString('en-GB')} of ${(n * n).toLocaleString('en-GB')} mixes`
      }}</span>
    </div>
    <section ref="mat" class="mat" :aria-label="`Chart on ${cardName}`">
      <template v-if="chart">
        <HeroSheet
          v-if="heroPlace >= 0"
          :chart="chart"
          :hero="heroPlace"
          :order="order"
          :names="names"
          :hidden="hidden"
          :picked="picked"
          @pick="pick"
          @open="openCell"
        />
        <ChartSheet
          v-else
          :chart="chart"
          :study="study"
          :order="order"
          :names="names"
          :hidden="hidden"
          :picked="picked"
          :size="size"
          @pick="pick"
          @open="openCell"
          @hero="(place) => (hero = chart?.head.inks[place] ?? null)"
        />
      </template>
    </section>
    <aside>
      <BoardTabs of="chart" :boards="boards" :at="board" label="Beside the chart" @turn="(to) => (board = to)" />
      <div id="chart-board" class="board" role="tabpanel" :aria-labelledby="`chart-tab-${board}`">
        <template v-if="board === 'mix'">
          <article v-if="picked && cell && isTold" class="mix" aria-live="polite">
            <div class="three" aria-hidden="true" :style="{ backgroundColor: chart?.head.card }">
              <span :style="{ backgroundColor: chart?.head.alone[picked[0]] }"></span>
              <span class="both" :style="{ backgroundColor: cell.look.colour.hex }"></span>
              <span :style="{ backgroundColor: chart?.head.alone[picked[1]] }"></span>
            </div>
            <h2>{{ names[picked[1]] }} <small>over</small> {{ names[picked[0]] }}</h2>
            <p class="said">
              <MudGlass :mud="cell.look.verdict.mud" :line="chart?.head.mud_line ?? DEFAULT_MUD_LINE" :size="34" />
              <span
                ><b>{{ verdictKindSaid[cell.look.verdict.kind] }}</b
                >, {{ cell.look.words }}<br />{{ cell.look.chance }}</span
              >
            </p>
            <p v-for="reason in cell.look.verdict.reasons" :key="reason.code">{{ reason.text }}</p>
            <p>
              {{ cell.look.closeness
              }}<template v-if="study && cell.new !== null && cell.new >= same"
                >; no ink of yours looks like it</template
              >
            </p>
            <details class="figures">
              <summary>The figures</summary>
              <dl>
                <dt>prediction</dt>
                <dd>±{{ cell.look.margin.toFixed(1) }} ΔE00</dd>
                <dt v-if="cell.new !== null">from the nearest ink you own</dt>
                <dd v-if="cell.new !== null">{{ cell.new.toFixed(1) }} ΔE00</dd>
                <dt>mud, 0 to 100</dt>
                <dd>{{ Math.round(cell.look.verdict.mud) }}</dd>
              </dl>
            </details>
            <button type="button" class="go" @click="openCell">Open in Overlap</button>
            <button type="button" class="word" @click="picked = [picked[1], picked[0]]">The other way round</button>
          </article>
          <div v-else-if="!picked" class="hint">
            <p>
              Press a swatch to hear about it, and once more to lay it on the table. Press a name to see that ink with
              every other one.
            </p>
            <ul class="marks" aria-label="Marks on the swatches">
              <li v-for="kind in verdictKindWords" :key="kind">
                <VerdictMark :kind="kind" colour="currentColor" :size="18" />{{ verdictKindSaid[kind] }}
              </li>
            </ul>
          </div>
        </template>
        <AloneList
          v-else-if="board === 'alone'"
          :body="body"
          :card="cardName"
          @look="(id) => (hero = id)"
          @lay="(id) => toOverlap(`${nameOf(id)} on ${cardName}`, [id])"
        />
        <template v-else-if="board === 'company'">
          <ElSelect v-model="blend" :options="choices(blendWords, blendSaid)" aria-label="What the set is for" />
          <p class="with">
            {{ hero === null ? 'From every ink on the chart' : `With ${nameOf(hero)} in it` }}, no mud and no hard line
            at any seam.
          </p>
          <p v-if="!company" role="status">Looking …</p>
          <p v-else-if="!company.sets.length">No such set among these inks; take more ranges in, or another card.</p>
          <ol v-else class="sets">
            <li v-if="company.rainbow && hero === null">
              <h3>The fewest found for a whole rainbow: {{ colours(company.rainbow) }}</h3>
              <BandStrip :shown="company.rainbow.shown" :card="chart?.head.card ?? '#f8f7f4'" />
              <p>{{ company.rainbow.inks.map(nameOf).join(', ') }}</p>
              <button type="button" class="word" @click="toPanel(company.rainbow.inks)">Make it a panel</button>
              <button type="button" class="word" @click="openSet(company.rainbow.inks)">Lay them in Overlap</button>
            </li>
            <li v-for="set in company.sets" :key="set.inks.join()">
              <h3>{{ colours(set) }}</h3>
              <BandStrip :shown="set.shown" :card="chart?.head.card ?? '#f8f7f4'" />
              <p>
                {{ set.inks.map(nameOf).join(', ')
                }}<template v-if="closes(set)">; the first comes back to close it</template>. Lay
                {{ [...set.order].map(nameOf).join(', then ') }}.
              </p>
              <button type="button" class="word" @click="toPanel(set.inks)">Make it a panel</button>
              <button type="button" class="word" @click="openSet(set.inks)">Lay them in Overlap</button>
            </li>
          </ol>
        </template>
        <template v-else>
          <h3 class="most">
            The <NumberBox v-model="different" :min="2" :max="24" size="small" aria-label="How many" /> most different
            clean mixes
          </h3>
          <ul class="different" :style="{ backgroundColor: chart?.head.card }">
            <li v-for="each in mostDifferent" :key="each.said">
              <button
                type="button"
                :style="{ backgroundColor: each.colour }"
                :aria-label="each.said"
                :title="each.said"
                @click="pick(each.cell)"
              ></button>
            </li>
          </ul>
          <p v-if="study" class="with">
            {{ study.head.groups.toLocaleString('en-GB') }} looks in {{ (n * n).toLocaleString('en-GB') }} mixes.
          </p>
          <h3>Distinct clean colours with the rest</h3>
          <ol class="ranked">
            <li v-for="each in ranked" :key="each.id">
              <button type="button" @click="hero = each.id">
                <span class="chip" :style="{ backgroundColor: each.hex }"></span><span>{{ each.name }}</span
                ><b>{{ each.count }}</b>
              </button>
            </li>
          </ol>
        </template>
      </div>
    </aside>
  </main>
  <main v-else class="empty">
    <h1>No inks to chart yet</h1>
    <p>A chart lays every ink you own over every other one.</p>
    <a href="#/stash">Put inks on the shelf</a>
  </main>
</template>

<style scoped src="./ChartView.css"></style>

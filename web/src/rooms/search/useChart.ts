/**
 * The chart: every ink over every ink on one card, as bytes from the service.
 *
 * Colours, verdicts and mud come first and are painted; what is new and what looks
 * alike follows, and in which order the inks stand. Nothing is stored but how the chart was last asked for.
 *
 * @example const { chart, order, fetchChart } = useChart()
 */
import { createGlobalState, useLocalStorage } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'

import { useNewest } from '@/shared/newest'
import { need, api, framed, type ChartHead, type ChartIn, type CompanyList, type StudyHead } from '@/shared/api'
import type { Blend, ChartOrder, Over, Tool } from '../../generated/words'
import { useOverlap } from '../overlap/useOverlap'
import { useStash } from '../stash/useStash'

export interface Chart {
  head: ChartHead
  /** Red, green, blue of every cell, row by row; the row's ink lies below. */
  rgb: Uint8Array
  kind: Uint8Array
  mud: Uint8Array
}
export interface Study {
  head: StudyHead
  /** ΔE00/4 to the nearest owned ink. */
  fresh: Uint8Array
  /** The cell that stands for each. */
  leader: Uint32Array
}
export const useChart = createGlobalState(() => {
  const { inks, atHand: owned, attempt, quietly } = useStash()
  const { light, ownLine } = useOverlap()

  const asked = useLocalStorage('wempa-chart', {
    card: null as number | null,
    /** Or each ink's own usual tool. */
    tool: 'usual' as Tool | 'usual',
    passes: 6,
    over: 'dry' as Over,
    order: 'hue' as ChartOrder,
    hideMud: false,
    onlyNew: false,
    oneOfEach: false,
    goodPads: false,
    /** Ranges that are left out. */
    without: [] as string[],
  })
  const chart = shallowRef<Chart | null>(null)
  const study = shallowRef<Study | null>(null)
  const company = shallowRef<CompanyList | null>(null)
  const working = ref(false)
  /** The one ink that is looked at with all others; null for all with all. */
  const hero = ref<number | null>(null)

  const ranges = computed(() => [...new Set(owned.value.map((ink) => ink.range ?? ''))].sort())
  const chosen = computed(() =>
    inks.value.filter(
      (ink) =>
        // The one that is looked at is on the chart whatever it is: wished for, used up, of a range left out.
        ink.id === hero.value ||
        (ink.item.standing === 'owned' &&
          !asked.value.without.includes(ink.range ?? '') &&
          !(asked.value.goodPads && ink.drying_out)),
    ),
  )
  const body = computed<ChartIn>(() => ({
    card_id: asked.value.card,
    inks: chosen.value.map((ink) => ink.id),
    tool: asked.value.tool === 'usual' ? null : asked.value.tool,
    load: 'normal',
    passes: asked.value.passes,
    over: asked.value.over,
    illuminant: light.value,
    mud_line: ownLine.value,
  }))

  let turn = 0
  async function fetchChart(): Promise<void> {
    const mine = ++turn
    working.value = true
    await attempt(async () => {
      const { head, bytes } = await framed<ChartHead>('/api/chart', body.value)
      if (mine !== turn) return
      const cells = head.inks.length ** 2
      chart.value = {
        head,
        rgb: bytes.subarray(0, 3 * cells),
        kind: bytes.subarray(3 * cells, 4 * cells),
        mud: bytes.subarray(4 * cells),
      }
      study.value = null
      if (hero.value !== null && !head.inks.includes(hero.value)) hero.value = null
      const found = await framed<StudyHead>('/api/chart/study', body.value)
      if (mine !== turn) return
      const start = cells + ((4 - (cells % 4)) % 4)
      study.value = {
        head: found.head,
        fresh: found.bytes.subarray(0, cells),
        leader: new Uint32Array(found.bytes.slice(start).buffer),
      }
    })
    if (mine === turn) working.value = false
  }

  /** In which order the inks stand, by place. */
  const order = shallowRef<number[]>([])
  const fetchOrder = useNewest(
    async (now: Chart | null) => {
      if (!now) return null
      const wanted = { ...body.value, inks: now.head.inks, order: asked.value.order, hero: hero.value }
      return need(api.POST('/api/chart/order', { body: wanted }))
    },
    (found, [now]) => {
      if (found && chart.value === now) order.value = found
    },
  )
  watch([() => asked.value.order, hero, chart], () => void quietly(() => fetchOrder(chart.value)))
  watch(chart, (now) => (order.value = [...(now?.head.inks.keys() ?? [])]))

  const askCompany = useNewest(
    (blend: Blend) => need(api.POST('/api/chart/company', { body: { ...body.value, blend, hero: hero.value } })),
    (found) => (company.value = found),
  )
  async function fetchCompany(blend: Blend): Promise<void> {
    company.value = null
    await attempt(() => askCompany(blend))
  }

  const cellAt = (below: number, above: number) =>
    need(api.POST('/api/chart/cell', { body: { ...body.value, below, above } }))

  /** Where a chart as it is asked for is handed over, its inks as they stand. */
  function fileHref(form: 'pdf' | 'svg' | 'csv' | 'json', blank: boolean, inks: readonly number[]): string {
    const query = new URLSearchParams()
    for (const [key, value] of Object.entries({ ...body.value, inks }))
      for (const each of Array.isArray(value) ? value : [value])
        if (each !== null && each !== undefined) query.append(key, String(each))
    if (hero.value !== null) query.set('hero', String(hero.value))
    if (blank) query.set('blank', 'true')
    return `/api/chart/export.${form}?${query}`
  }

  watch(body, (now, before) => JSON.stringify(now) !== JSON.stringify(before) && chart.value && void fetchChart())

  return {
    asked,
    chart,
    study,
    company,
    working,
    order,
    hero,
    owned,
    chosen,
    ranges,
    body,
    fetchChart,
    fetchCompany,
    cellAt,
    fileHref,
  }
})

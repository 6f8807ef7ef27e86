/**
 * The table: what can be brought to it, the evening that is planned, the run that is under way.
 *
 * @example const { table, plan, begin, done } = useTable()
 */
import { createGlobalState, useLocalStorage } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'

import { api, need, needOrNull, type Choosable, type Evening, type Habits, type Run, type Table, type TableStep, type Timer } from '@/shared/api'
import { at, router } from '@/shared/router'
import { useStash } from '../stash/useStash'
import { WHITE_CARD } from '../../generated/words'

/** Seconds since 1970, by the clock of this machine. */
const now = (): number => Date.now() / 1000

export const useTable = createGlobalState(() => {
  const { attempt } = useStash()
  const table = shallowRef<Table | null>(null)
  const evening = shallowRef<Evening | null>(null)
  const run = shallowRef<Run | null>(null)
  const planning = ref(false)
  /** Which choices are to be planned, by kind and number. */
  const picked = useLocalStorage<string[]>('wempa-table-picked', [])
  const habits = ref<Partial<Habits>>({})
  const sound = useLocalStorage('wempa-table-sound', true)
  const keyOf = (each: Pick<Choosable, 'kind' | 'ids'>): string => `${each.kind} ${each.ids.join(',')}`
  /** Some of the squares that wait, brought from the swatch book. */
  const some = shallowRef<Choosable | null>(null)
  const choices = computed(() => {
    const all = table.value?.choices ?? []
    return some.value && !all.some((each) => some.value && keyOf(each) === keyOf(some.value)) ? [...all, some.value] : all
  })
  const chosen = computed(() => choices.value.filter((each) => picked.value.includes(keyOf(each)) && !each.trouble))

  async function fetchTable(): Promise<void> {
    table.value = await need(api.GET('/api/table'))
    habits.value = { ...table.value.habits, ...habits.value }
    if (table.value.run) run.value = await needOrNull(api.GET('/api/run', { params: { query: { now: now() } } }))
    else if (!run.value?.ended) run.value = null
    if (table.value.evening && !evening.value) {
      evening.value = await need(api.GET('/api/evenings/{evening_id}', { params: { path: { evening_id: table.value.evening } } }))
    }
  }

  const pick = (each: Choosable): void => {
    const key = keyOf(each)
    picked.value = picked.value.includes(key) ? picked.value.filter((other) => other !== key) : [...picked.value, key]
  }

  /** Go to the table with something to be made there. */
  const bring = (kind: Choosable['kind'], ids: number[]): void => {
    picked.value = [keyOf({ kind, ids })]
    if (kind === 'squares') {
      const name = ids.length === 1 ? 'A square' : `${ids.length} squares`
      some.value = { kind, ids: [...ids], name, about: 'from the swatch book', shown: [], card: WHITE_CARD, trouble: '' }
    }
    evening.value = null
    void router.push(at('table'))
  }

  async function plan(): Promise<void> {
    planning.value = true
    const pieces = chosen.value.map(({ kind, ids }) => ({ kind, ids }))
    await attempt(async () => {
      evening.value = await need(api.POST('/api/evenings', { body: { pieces, habits: { ...table.value?.habits, ...habits.value } as Habits } }))
    })
    planning.value = false
  }

  const begin = (anyway = false): Promise<boolean> =>
    attempt(async () => {
      if (!evening.value) return
      const params = { path: { evening_id: evening.value.id } }
      run.value = await need(api.POST('/api/evenings/{evening_id}/begin', { params, body: { now: now(), anyway } }))
      evening.value = null
    })

  /** Change the run; where another page did so meanwhile, see what it is now. */
  const onRun = (change: (params: { path: { run_id: number }; header: { 'if-match': string } }) => Promise<Run>): Promise<boolean> =>
    attempt(async () => {
      const own = run.value
      if (!own) return
      run.value = await change({ path: { run_id: own.id }, header: { 'if-match': String(own.revision) } })
    }, fetchTable)

  const done = (step: TableStep): Promise<boolean> =>
    onRun((params) => need(api.POST('/api/runs/{run_id}/done', { params, body: { now: now(), bout: step.bout, act: step.act, do: step.do } })))
  const dried = (timer: Timer): Promise<boolean> =>
    onRun((params) => need(api.POST('/api/runs/{run_id}/dried', { params, body: { now: now(), bout: timer.bout, drying: timer.drying } })))
  const back = (): Promise<boolean> => onRun((params) => need(api.POST('/api/runs/{run_id}/back', { params, body: { now: now() } })))
  const anew = (): Promise<boolean> => onRun((params) => need(api.POST('/api/runs/{run_id}/anew', { params, body: { now: now() } })))
  const end = (): Promise<boolean> =>
    onRun((params) => need(api.POST('/api/runs/{run_id}/end', { params, body: { now: now() } }))).then(async (ended) => {
      if (ended) await attempt(fetchTable)
      return ended
    })

  return { table, evening, run, planning, picked, choices, chosen, habits, sound, keyOf, fetchTable, pick, bring, plan, begin, done, dried, back, anew, end }
})

/** Minutes as one says them: seconds below one, then minutes, then hours. */
export function spanSaid(minutes: number): string {
  if (minutes < 0.95) return `${Math.max(5, Math.round((minutes * 60) / 5) * 5)} s`
  if (minutes < 100) return `${Math.round(minutes)} min`
  return `${(minutes / 60).toFixed(1)} h`
}

/** What is left of a timer: minutes and seconds. */
export function clockSaid(minutes: number): string {
  const seconds = Math.max(0, Math.ceil(minutes * 60))
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`
}

/** Where a piece is pictured with so many lay-downs on it. */
export function lookAt(piece: { kind: string; ids: number[] }, laid: number | null, wet: boolean): string {
  const query = new URLSearchParams({ kind: piece.kind, wet: String(wet) })
  piece.ids.forEach((id) => query.append('ids', String(id)))
  if (laid !== null) query.set('laid', String(laid))
  return `/api/table/look.png?${query}`
}

/**
 * The table: what can be brought to it, the evening that is planned, the run that is under way.
 *
 * @example const { table, plan, begin, done } = useTable()
 */
import { createGlobalState, StorageSerializers, useLocalStorage } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'

import {
  api,
  need,
  needOrNull,
  type Choosable,
  type Evening,
  type Habits,
  type Run,
  type Table,
  type TableStep,
  type Timer,
} from '@/shared/api'
import { at, router } from '@/shared/router'
import { useQueue } from '@/shared/queue'
import { useStash } from '../stash/useStash'
import { asleep, ticked, useSleeping } from './useSleeping'
import { WHITE_CARD } from '../../generated/words'

/** Seconds since 1970, by the clock of this machine. */
const now = (): number => Date.now() / 1000

export const useTable = createGlobalState(() => {
  const { attempt, trouble } = useStash()
  const table = shallowRef<Table | null>(null)
  const evening = shallowRef<Evening | null>(null)
  const run = shallowRef<Run | null>(null)
  const planning = ref(false)
  /** Which choices are to be planned, by kind and number. */
  const picked = useLocalStorage<string[]>('wempa-table-picked', [])
  const habits = ref<Partial<Habits>>({})
  const sleeping = useSleeping(
    (told) => (run.value = told),
    (text) => {
      trouble.value = text
      void attempt(fetchTable).then(() => (trouble.value = text))
    },
  )
  const lastSeen = useLocalStorage<Run | null>('wempa-mat-run', null, { serializer: StorageSerializers.object })
  // What is not told yet is kept apart, and comes on top of it.
  watch(run, (seen) => {
    if (!sleeping.away.value) lastSeen.value = seen && !seen.ended ? seen : null
  })
  const sound = useLocalStorage('wempa-table-sound', true)
  const keyOf = (each: Pick<Choosable, 'kind' | 'ids'>): string => `${each.kind} ${each.ids.join(',')}`
  /** Some of the squares that wait, brought from the swatch book. */
  const some = shallowRef<Choosable | null>(null)
  const choices = computed(() => {
    const all = table.value?.choices ?? []
    return some.value && !all.some((each) => some.value && keyOf(each) === keyOf(some.value))
      ? [...all, some.value]
      : all
  })
  const chosen = computed(() => choices.value.filter((each) => picked.value.includes(keyOf(each)) && !each.trouble))

  /** The run under way; as it was last seen, where the laptop sleeps. */
  async function runNow(): Promise<Run | null> {
    try {
      return await needOrNull(api.GET('/api/run', { params: { query: { now: now() } } }))
    } catch (error) {
      if (asleep(error) && lastSeen.value) return lastSeen.value
      throw error
    }
  }

  async function fetchTable(): Promise<void> {
    table.value = await need(api.GET('/api/table'))
    habits.value = { ...table.value.habits, ...habits.value }
    const found = await runNow()
    if (found) run.value = sleeping.withKept(found)
    else if (!run.value?.ended) run.value = null
    if (table.value.evening && !evening.value) {
      evening.value = await need(
        api.GET('/api/evenings/{evening_id}', { params: { path: { evening_id: table.value.evening } } }),
      )
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
      some.value = {
        kind,
        ids: [...ids],
        name,
        about: 'from the swatch book',
        shown: [],
        card: WHITE_CARD,
        trouble: '',
      }
    }
    evening.value = null
    void router.push(at('table'))
  }

  async function plan(): Promise<void> {
    planning.value = true
    const pieces = chosen.value.map(({ kind, ids }) => ({ kind, ids }))
    await attempt(async () => {
      evening.value = await need(
        api.POST('/api/evenings', { body: { pieces, habits: { ...table.value?.habits, ...habits.value } as Habits } }),
      )
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

  const inTurn = useQueue((work) => attempt(work, fetchTable))

  /** Change the run, one change after another; where another page did so meanwhile, see what it is now. */
  const onRun = (
    change: (params: { path: { run_id: number }; header: { 'if-match': string } }) => Promise<Run>,
  ): Promise<boolean> =>
    inTurn(async () => {
      const own = run.value
      if (!own) return
      run.value = await change({ path: { run_id: own.id }, header: { 'if-match': String(own.revision) } })
    })

  /** Runs as they were before each step that is not told yet. */
  const before: Run[] = []
  function keepTick(own: Run, step: TableStep, at: number): void {
    before.push(own)
    sleeping.hold({ run: own.id, bout: step.bout, act: step.act, do: step.do, at })
    run.value = ticked(own, { run: own.id, bout: step.bout, act: step.act, do: step.do, at })
  }
  const isSame = (one: TableStep | undefined, other: TableStep): boolean =>
    one?.bout === other.bout && one.act === other.act && one.do === other.do

  /** Tick a step off; while the laptop sleeps it is kept here and told later. Pressed twice, it is ticked off once. */
  function done(step: TableStep): Promise<boolean> {
    const at = now()
    return inTurn(async () => {
      const own = run.value
      if (
        !own ||
        !isSame(
          own.due.find((each) => each.hands),
          step,
        )
      )
        return
      if (sleeping.away.value) return keepTick(own, step, at)
      before.length = 0
      const params = { path: { run_id: own.id }, header: { 'if-match': String(own.revision) } }
      try {
        run.value = await need(
          api.POST('/api/runs/{run_id}/done', {
            params,
            body: { now: at, bout: step.bout, act: step.act, do: step.do, later: false },
          }),
        )
      } catch (error) {
        if (!asleep(error)) throw error
        keepTick(own, step, at)
      }
    })
  }
  const dried = (timer: Timer): Promise<boolean> =>
    onRun((params) =>
      need(
        api.POST('/api/runs/{run_id}/dried', { params, body: { now: now(), bout: timer.bout, drying: timer.drying } }),
      ),
    )
  function back(): Promise<boolean> {
    const last = sleeping.away.value ? before.at(-1) : undefined
    if (!last) return backThere()
    if (!sleeping.letGo()) return Promise.resolve(false)
    before.pop()
    run.value = last
    return Promise.resolve(true)
  }
  const backThere = (): Promise<boolean> =>
    onRun((params) => need(api.POST('/api/runs/{run_id}/back', { params, body: { now: now() } })))
  const anew = (): Promise<boolean> =>
    onRun((params) => need(api.POST('/api/runs/{run_id}/anew', { params, body: { now: now() } })))
  const end = (): Promise<boolean> =>
    onRun((params) => need(api.POST('/api/runs/{run_id}/end', { params, body: { now: now() } }))).then(
      async (ended) => {
        if (ended) await attempt(fetchTable)
        return ended
      },
    )

  return {
    table,
    evening,
    run,
    sleeping,
    planning,
    picked,
    choices,
    chosen,
    habits,
    sound,
    keyOf,
    fetchTable,
    pick,
    bring,
    plan,
    begin,
    done,
    dried,
    back,
    anew,
    end,
  }
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

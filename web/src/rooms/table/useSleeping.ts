/**
 * Work at the mat while the laptop sleeps: what is ticked off is kept on this device and told to it when it is back.
 *
 * Over HTTPS, or on the laptop itself, the page is kept as well, so that it can be reloaded meanwhile; over plain HTTP
 * no browser does that, and the open page says so.
 */
import { useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'

import { api, need, needOrNull, Refused, type Run, type TableStep } from '@/shared/api'

/** A step that was ticked off while nobody answered, seconds since 1970. */
export interface Tick {
  run: number
  bout: number
  act: number
  do: TableStep['do']
  at: number
}

const AGAIN_MS = 4000
/** More than an evening has. */
const MOST = 500

/** Between steps of one pair of hands more than this is a wait for something to dry, minutes. */
const WAIT = 0.05

/**
 * A run with a tick that the service does not know yet. What is late moves all that comes after it; what is early
 * lets the next steps begin sooner, up to the first that waits for something to dry.
 */
export function ticked(run: Run, tick: Tick): Run {
  const step = run.due.find(
    (each) => each.hands && each.bout === tick.bout && each.act === tick.act && each.do === tick.do,
  )
  if (!step) return run
  const ended = Math.max(0, (tick.at - run.began) / 60)
  const planned = step.start + step.minutes
  const late = Math.max(0, ended - planned)
  let early = Math.min(0, ended - planned)
  let free = planned
  const moved = (each: TableStep): TableStep => {
    if (!each.hands) return { ...each, start: each.start + late }
    if (each.start > free + WAIT) early = 0
    free = each.start + each.minutes
    return { ...each, start: each.start + late + early }
  }
  return {
    ...run,
    total: run.total + late,
    done: [...run.done, { of: step.of, label: step.label, text: step.text, ended }],
    due: run.due.filter((each) => each !== step).map(moved),
  }
}

/** Whether nobody answered at all. */
export const asleep = (error: unknown): boolean => error instanceof Refused && error.status === 0

export function useSleeping(seen: (run: Run) => void, lost: (text: string) => void) {
  const kept = useLocalStorage<Tick[]>('wempa-mat-kept', [])
  const away = ref(kept.value.length > 0)
  /** Whether this page can be reloaded while the laptop sleeps. */
  const reloadable = ref(false)
  let telling = false
  const count = computed(() => kept.value.length)

  function hold(tick: Tick): void {
    if (kept.value.length < MOST) kept.value = [...kept.value, tick]
    away.value = true
    resume()
  }
  /** Take the newest one back that was not told yet; not while they are being told. */
  function letGo(): boolean {
    if (telling) return false
    kept.value = kept.value.slice(0, -1)
    return true
  }
  /** A run as it is with all that is not told yet. */
  const withKept = (run: Run): Run => kept.value.filter((tick) => tick.run === run.id).reduce(ticked, run)

  async function tell(): Promise<void> {
    if (telling) return
    telling = true
    try {
      let run = await needOrNull(
        api.GET('/api/run', { params: { query: { now: Date.now() / 1000 } }, cache: 'no-store' }),
      )
      // What stands in for a sleeping laptop is no answer of it: the first tick shows.
      while (kept.value.length) {
        const [tick, ...rest] = kept.value
        if (!tick || !run || run.id !== tick.run)
          throw new Refused('This evening was ended or planned anew elsewhere', 409)
        const params = { path: { run_id: run.id }, header: { 'if-match': String(run.revision) } }
        const body = { now: tick.at, bout: tick.bout, act: tick.act, do: tick.do, later: rest.length > 0 }
        run = await need(api.POST('/api/runs/{run_id}/done', { params, body }))
        // Others may have been ticked off while this one was told.
        kept.value = kept.value.slice(1)
      }
      away.value = false
      pause()
      if (run) seen(run)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      if (asleep(error)) return
      const left = kept.value.length
      kept.value = []
      away.value = false
      pause()
      lost(
        `${error.message.replace(/\.$/, '')}: ${left === 1 ? 'one step' : `${left} steps`} that you ticked off meanwhile could not be told.`,
      )
    } finally {
      telling = false
    }
  }
  const { pause, resume } = useIntervalFn(() => void tell(), AGAIN_MS, { immediate: kept.value.length > 0 })

  /** Keep the page on the device, where the browser lets it. */
  async function keepPage(): Promise<void> {
    if (!('serviceWorker' in navigator) || !window.isSecureContext) return
    try {
      // It says so when it has all of it.
      navigator.serviceWorker.addEventListener('message', () => (reloadable.value = true), { once: true })
      await navigator.serviceWorker.register('/sw.js')
      const ready = await navigator.serviceWorker.ready
      ready.active?.postMessage(performance.getEntriesByType('resource').map((each) => each.name))
    } catch {
      // A browser in private mode refuses: then it is as over plain HTTP.
      reloadable.value = false
    }
  }
  return { away, count, reloadable, hold, letGo, withKept, tell, keepPage }
}

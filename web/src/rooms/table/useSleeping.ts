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

/** Where steps stand among others that begin at the same time: hands before what dries by itself. */
const inOrder = (a: TableStep, b: TableStep): number =>
  a.start - b.start || Number(b.hands) - Number(a.hands) || a.bout - b.bout || a.act - b.act

/**
 * A run with a tick that the service does not know yet, its steps in the order that they were planned in.
 *
 * One pair of hands goes through the steps. The steps of one bout follow one another without a pause; a bout begins
 * so late that what one of its steps waits for is dry by then. The service goes by the same rule; both are tested
 * with the runs in `tests/golden/running.json`.
 */
export function ticked(run: Run, tick: Tick): Run {
  const step = run.due.find((due) => due.hands)
  if (!step || step.bout !== tick.bout || step.act !== tick.act || step.do !== tick.do) return run
  const ended = Math.max(run.done.at(-1)?.ended ?? 0, (tick.at - run.began) / 60, 0)
  const dryAt = new Map(run.timers.map((timer) => [`${timer.bout} ${timer.drying}`, timer.ends]))
  const timers = [...run.timers]
  const due: TableStep[] = []
  /** What begins to dry when a step ends. */
  const dries = (after: TableStep, ends: number, done: boolean): void => {
    for (const drying of run.due) {
      if (drying.hands || !drying.after.includes(after.n)) continue
      dryAt.set(`${drying.bout} ${drying.act}`, ends + drying.minutes)
      if (!done) due.push({ ...drying, start: ends })
      else
        timers.push({
          bout: drying.bout,
          drying: drying.act,
          of: drying.of,
          text: drying.text,
          ends: ends + drying.minutes,
        })
    }
  }
  dries(step, ended, true)
  const left = run.due.filter((due) => due.hands && due !== step)
  let free = ended
  for (let first = 0; first < left.length;) {
    const bout = left[first]?.bout
    let last = first
    while (left[last]?.bout === bout) last++
    const steps = left.slice(first, last)
    let begins = free
    let into = 0
    for (const next of steps) {
      for (const wait of next.waits) begins = Math.max(begins, (dryAt.get(`${wait.bout} ${wait.drying}`) ?? 0) - into)
      into += next.minutes
    }
    for (const next of steps) {
      due.push({ ...next, start: begins })
      begins += next.minutes
      dries(next, begins, false)
    }
    free = begins
    first = last
  }
  return {
    ...run,
    total: Math.max(free, ...dryAt.values()),
    done: [...run.done, { of: step.of, label: step.label, text: step.text, ended }],
    due: due.sort(inOrder),
    timers: timers.sort((a, b) => a.ends - b.ends),
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

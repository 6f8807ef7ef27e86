/**
 * The overlap on the table: what lies there, what it looks like, every change.
 *
 * Each change goes to the service at once, which stores it, journals it and answers
 * with the new colours; changes queue, so that the newest always wins and nothing is
 * lost on reload.
 */
import { computed, ref, shallowRef } from 'vue'

import { api, need, Refused, type Desk, type Entry, type OverlapIn, type StashInk } from '../api'
import { useStash } from './useStash'

const { inks, cards, trouble, fetchStash } = useStash()
const desk = shallowRef<Desk | null>(null)
const loading = ref(true)

const inkOf = computed(() => new Map(inks.value.map((ink) => [ink.id, ink])))
const overlap = computed(() => desk.value?.overlap ?? null)
const layers = computed(() =>
  (overlap.value?.stack ?? []).map((entry) => ({ entry, ink: inkOf.value.get(entry.ink_id ?? -1) ?? null })),
)
const card = computed(() => cards.value.find((each) => each.id === overlap.value?.card_id) ?? null)

const firstTouch = (ink: StashInk): Entry => ({
  ink_id: ink.id,
  tool: ink.formula === 'dye' || ink.formula === 'reactive_dye' || ink.formula === 'fluorescent' ? 'brush' : 'foam',
  passes: ink.formula === 'dye' || ink.formula === 'reactive_dye' || ink.formula === 'fluorescent' ? 6 : 4,
  over: 'dry',
})

/** Inks that can be laid down. */
const atHand = (): StashInk[] => inks.value.filter((ink) => ink.item.standing === 'owned')

async function attempt(work: () => Promise<void>): Promise<void> {
  try {
    await work()
    trouble.value = null
  } catch (error) {
    if (!(error instanceof Refused)) throw error
    trouble.value = error.message
    if (error.status === 409) await fetchDesk()
  }
}

async function fetchDesk(): Promise<void> {
  const all = await need(api.GET('/api/overlaps'))
  const found = all[0]
  if (found) {
    desk.value = await need(api.GET('/api/overlaps/{item_id}', { params: { path: { item_id: found.id } } }))
    return
  }
  const [below, above] = atHand()
  const body: OverlapIn = {
    name: 'On the table',
    card_id: cards.value[0]?.id ?? null,
    settings: { illuminant: 'D65', mud_line: 50 },
    stack: [below, above].filter((ink) => ink !== undefined).map(firstTouch),
  }
  if (body.stack.length === 2) desk.value = await need(api.POST('/api/overlaps', { body }))
}

async function load(): Promise<void> {
  loading.value = true
  await attempt(async () => {
    await fetchStash()
    await fetchDesk()
  })
  loading.value = false
}

async function fillWithSample(): Promise<void> {
  await attempt(async () => {
    await need(api.POST('/api/stash/sample'))
  })
  await load()
}

let queue: Promise<void> = Promise.resolve()

/** Change the overlap; `edit` gets what lies there when its turn comes. */
function change(edit: (now: OverlapIn) => OverlapIn): Promise<void> {
  queue = queue.then(() =>
    attempt(async () => {
      const now = overlap.value
      if (!now) return
      const { id, revision, ...rest } = now
      desk.value = await need(
        api.PUT('/api/overlaps/{item_id}', {
          params: { path: { item_id: id }, header: { 'if-match': `"${revision}"` } },
          body: edit(rest),
        }),
      )
    }),
  )
  return queue
}

const changeLayer = (index: number, edit: Partial<Entry>): Promise<void> =>
  change((now) => ({ ...now, stack: now.stack.map((entry, i) => (i === index ? { ...entry, ...edit } : entry)) }))

const chooseInk = (index: number, ink: StashInk): Promise<void> =>
  change((now) => ({
    ...now,
    stack: now.stack.map((entry, i) => (i === index ? { ...firstTouch(ink), over: entry.over ?? 'dry' } : entry)),
  }))

const chooseCard = (id: number): Promise<void> => change((now) => ({ ...now, card_id: id }))

const swap = (): Promise<void> =>
  change((now) => {
    const [below, above] = now.stack
    if (!below || !above) return now
    return { ...now, stack: [{ ...above, over: 'dry' }, { ...below, over: above.over ?? 'dry' }] }
  })

const layTwo = (): Promise<void> =>
  change((now) => ({ ...now, stack: atHand().slice(0, 2).map(firstTouch) }))

async function step(direction: 'undo' | 'redo'): Promise<void> {
  queue = queue.then(() =>
    attempt(async () => {
      await need(direction === 'undo' ? api.POST('/api/undo') : api.POST('/api/redo'))
      await fetchStash()
      await fetchDesk()
    }),
  )
  return queue
}

export function useDesk() {
  return {
    inks, cards, desk, overlap, layers, card, trouble, loading,
    load, fetchDesk, change, changeLayer, chooseInk, chooseCard, swap, layTwo, fillWithSample,
    undo: () => step('undo'),
    redo: () => step('redo'),
  }
}

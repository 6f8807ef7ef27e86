/**
 * The overlap on the table: what lies there, what it looks like, every change.
 *
 * Each change goes to the service at once, which stores it, journals it and answers
 * with the new colours; changes queue, so that the newest always wins and nothing is
 * lost on reload. What would help is asked for once the colours are painted.
 */
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'

import { api, need, needOrNull, Refused, sendFile, type Advice, type Desk, type Entry, type Look, type OverlapIn, type StackChange, type StashInk, type Strip, type Summary } from '../api'
import { DEFAULT_MUD_LINE, type Board, type Illuminant, type Preset, type Treatment } from '../generated/words'
import { useStash } from './useStash'

const { inks, cards, trouble, fetchStash, attempt: told } = useStash()
const desk = shallowRef<Desk | null>(null)
const advice = shallowRef<Advice | null>(null)
const strips = shallowRef<Strip[]>([])
const overlaps = shallowRef<Summary[]>([])
const loading = ref(true)
/** Which overlap is open, kept over reload. */
const openId = useLocalStorage('wempa-overlap', 0)
/** The entry that is picked; the stack's length means the next one. */
const active = ref(0)

const inkOf = computed(() => new Map(inks.value.map((ink) => [ink.id, ink])))
const overlap = computed(() => desk.value?.overlap ?? null)
const card = computed(() => cards.value.find((each) => each.id === overlap.value?.card_id) ?? null)
const stack = computed(() => overlap.value?.stack ?? [])
/** What stands in an entry: its inks, its name, and the place it has among the lay-downs. */
const layers = computed(() => {
  let place = 0
  return stack.value.map((entry) => {
    const parts = entry.mix ?? (entry.ink_id ? [{ ink_id: entry.ink_id, share: 1 }] : [])
    const found = parts.map((part) => inkOf.value.get(part.ink_id) ?? null)
    return { entry, inks: found, place: parts.length ? place++ : null }
  })
})

/** Inks that can be laid down. */
const atHand = computed(() => inks.value.filter((ink) => ink.item.standing === 'owned'))

const firstTouch = (ink: StashInk): Entry => ({ ink_id: ink.id, ...ink.touch })

const attempt = (work: () => Promise<void>): Promise<boolean> => told(work, fetchDesk)

function show(found: Desk | null): void {
  const other = found?.overlap.id !== desk.value?.overlap.id
  desk.value = found
  openId.value = found?.overlap.id ?? 0
  const length = found?.overlap.stack.length ?? 0
  active.value = other ? 0 : Math.min(active.value, length)
}

async function fetchOverlaps(): Promise<void> {
  overlaps.value = await need(api.GET('/api/overlaps'))
}

const plainSettings = { illuminant: 'D65' as Illuminant, mud_line: DEFAULT_MUD_LINE, constants: {} }

const emptyTable = (): OverlapIn => ({
  name: 'On the table',
  card_id: cards.value[0]?.id ?? null,
  settings: plainSettings,
  stack: atHand.value.slice(0, 2).map(firstTouch),
  laid: 0,
  colour_name: '',
})

const read = (id: number): Promise<Desk> => need(api.GET('/api/overlaps/{item_id}', { params: { path: { item_id: id } } }))

async function fetchDesk(): Promise<void> {
  const found = await needOrNull(api.GET('/api/overlaps/open', { params: { query: { overlap: openId.value } } }))
  if (found) show(found)
  else if (atHand.value.length >= 2) show(await need(api.POST('/api/overlaps', { body: emptyTable() })))
  else show(null)
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

let queue: Promise<boolean> = Promise.resolve(true)

/** Do something once everything before it is done. */
function inTurn(work: () => Promise<void>): Promise<boolean> {
  queue = queue.then(() => attempt(work))
  return queue
}

/** Change the overlap; `edit` gets what lies there when its turn comes, null leaves it alone. */
function change(edit: (now: OverlapIn) => OverlapIn | null, what?: string): Promise<boolean> {
  return inTurn(async () => {
    const now = overlap.value
    if (!now) return
    const { id, revision, ...rest } = now
    const body = edit(rest as OverlapIn)
    if (!body) return
    show(
      await need(
        api.PUT('/api/overlaps/{item_id}', {
          params: { path: { item_id: id }, query: what ? { what } : {}, header: { 'if-match': `"${revision}"` } },
          body,
        }),
      ),
    )
  })
}

/** Change the stack; what is on the card already counts up to the first entry that is another now. */
const restack = (edit: (stack: Entry[]) => Entry[] | null, what: string): Promise<boolean> =>
  change((now) => {
    const changed = edit([...now.stack])
    if (!changed) return null
    const ink = (entry?: Entry): string => JSON.stringify([entry?.ink_id ?? null, entry?.mix ?? null, entry?.treatment ?? null])
    const other = now.stack.findIndex((entry, n) => ink(entry) !== ink(changed[n]))
    return { ...now, stack: changed, laid: Math.min(now.laid ?? 0, other < 0 ? changed.length : other) }
  }, what)

const changeLayer = (index: number, edit: Partial<Entry>, what = 'Change a lay-down'): Promise<boolean> =>
  restack((now) => now.map((entry, i) => (i === index ? { ...entry, ...edit } : entry)), what)

/** Lay an ink: instead of the picked entry, or on top when the next one is picked. */
function layInk(ink: StashInk, onTop = active.value >= stack.value.length): Promise<boolean> {
  const index = active.value
  return restack((now) => {
    const old = now[index]
    if (onTop || !old) {
      active.value = now.length + 1
      return [...now, firstTouch(ink)]
    }
    return now.map((entry, i) => (i === index ? { ...firstTouch(ink), over: entry.over ?? 'dry' } : entry))
  }, `Lay ${ink.name}`)
}

const treat = (treatment: Treatment): Promise<boolean> =>
  restack((now) => {
    const at = Math.min(active.value + 1, now.length)
    active.value = at
    return [...now.slice(0, at), { treatment }, ...now.slice(at)]
  }, 'Treat')

const remove = (index: number): Promise<boolean> =>
  restack((now) => (index < now.length ? now.filter((_, i) => i !== index) : null), 'Take out')

function move(from: number, to: number): Promise<boolean> {
  return restack((now) => {
    const [taken] = now.splice(from, 1)
    if (!taken || to < 0 || to > now.length) return null
    now.splice(to, 0, taken)
    active.value = to
    // The lowest lay-down has nothing wet below it.
    return now.map((entry, i) => (i === 0 && entry.over === 'wet' ? { ...entry, over: 'dry' } : entry))
  }, 'Reorder')
}

/** Mix a lay-down with the one below into one premix, half and half. */
const mixWithBelow = (index: number): Promise<boolean> =>
  restack((now) => {
    const [below, above] = [now[index - 1], now[index]]
    if (!below || !above || below.treatment || above.treatment) return null
    const parts = [below, above].map((entry) => entry.mix ?? (entry.ink_id ? [{ ink_id: entry.ink_id, share: 1 }] : []))
    const total = (mix: { share: number }[]): number => mix.reduce((sum, part) => sum + part.share, 0) || 1
    const mix = parts.flatMap((own) => own.map((part) => ({ ink_id: part.ink_id, share: part.share / total(own) })))
    active.value = index - 1
    return [...now.slice(0, index - 1), { ...below, ink_id: undefined, mix }, ...now.slice(index + 1)]
  }, 'Mix')

/** Take a premix apart into lay-downs of its inks, the next into the wet of the last. */
const takeApart = (index: number): Promise<boolean> =>
  restack((now) => {
    const { mix, ...rest } = now[index] ?? {}
    if (!mix) return null
    const single: Entry[] = mix.map((part, n) => ({ ...rest, ink_id: part.ink_id, ...(n ? { over: 'wet' as const } : {}) }))
    return [...now.slice(0, index), ...single, ...now.slice(index + 1)]
  }, 'Take apart')

const chooseCard = (id: number): Promise<boolean> => change((now) => ({ ...now, card_id: id }), 'Change the card')

const view = (illuminant: Illuminant): Promise<boolean> =>
  change((now) => ({ ...now, settings: { ...(now.settings ?? plainSettings), illuminant } }), 'Change the light')

const setMudLine = (line: number): Promise<boolean> =>
  change((now) => ({ ...now, settings: { ...(now.settings ?? plainSettings), mud_line: line } }), 'Move the mud line')

/** Swap a lay-down with the one above it, the way of joining staying where it is. */
const swap = (): Promise<boolean> =>
  restack((now) => {
    const places = now.flatMap((entry, i) => (entry.treatment ? [] : [i]))
    const [i, j] = places.slice(-2)
    const [below, above] = [now[i ?? -1], now[j ?? -1]]
    if (!below || !above || i === undefined || j === undefined) return null
    now[i] = { ...above, over: below.over ?? 'dry' }
    now[j] = { ...below, over: above.over ?? 'dry' }
    return now
  }, 'Swap the two uppermost')

/** Apply what a fix or a nudge proposes. */
const apply = (proposed: StackChange, what: string): Promise<boolean> =>
  change((now) => ({ ...now, ...proposed, laid: Math.min(now.laid ?? 0, proposed.stack.length) }), what)

const usePreset = (preset: Preset): Promise<boolean> =>
  inTurn(async () => {
    const now = overlap.value
    if (!now) return
    const header = { 'if-match': `"${now.revision}"` }
    show(
      await need(
        api.POST('/api/overlaps/{item_id}/preset', { params: { path: { item_id: now.id }, header }, body: { preset } }),
      ),
    )
  })

/** White pigment brushed thinly under everything, if there is one. */
const layBarrier = (): Promise<boolean> => usePreset('white_barrier')

const open = (id: number): Promise<boolean> =>
  inTurn(async () => {
    show(await read(id))
  })

const pairs = new Map<string, Look>()

/** One lay-down over another in full; what was asked once is known until something changes. */
async function lookAtPair(below: number, above: number): Promise<Look | null> {
  const now = overlap.value
  if (!now) return null
  const key = `${now.revision} ${below}-${above}`
  const known = pairs.get(key)
  if (known) return known
  const params = { path: { item_id: now.id }, query: { below, above } }
  const found = await need(api.GET('/api/overlaps/{item_id}/pair', { params })).catch(() => null)
  if (pairs.size > 200) pairs.clear()
  if (found) pairs.set(key, found)
  return found
}

/** Another overlap beside the open one, as it is now. */
const peek = read

const begin = (): Promise<boolean> =>
  inTurn(async () => {
    await fetchOverlaps()
    const taken = new Set(overlaps.value.map((each) => each.name))
    let name = 'New overlap'
    for (let n = 2; taken.has(name); n++) name = `New overlap (${n})`
    const settings = overlap.value?.settings ?? emptyTable().settings
    show(await need(api.POST('/api/overlaps', { body: { ...emptyTable(), name, stack: [], settings } })))
    await fetchOverlaps()
  })

const copy = (id: number): Promise<boolean> =>
  inTurn(async () => {
    show(await need(api.POST('/api/overlaps/{item_id}/copy', { params: { path: { item_id: id } } })))
    await fetchOverlaps()
  })

const discard = (id: number): Promise<boolean> =>
  inTurn(async () => {
    overlaps.value = await need(api.DELETE('/api/overlaps/{item_id}', { params: { path: { item_id: id } } }))
    await fetchDesk()
  })

const takeIn = (file: Blob): Promise<boolean> =>
  inTurn(async () => {
    show(await sendFile<Desk>('/api/overlaps/import', file))
    await fetchStash()
    await fetchOverlaps()
  })

const step = (direction: 'undo' | 'redo'): Promise<boolean> =>
  inTurn(async () => {
    await need(direction === 'undo' ? api.POST('/api/undo') : api.POST('/api/redo'))
    await fetchStash()
    await fetchDesk()
  })

/** Which board stands beside the verdict: only what it shows is asked for. */
const board = useLocalStorage<Board>('wempa-board', 'help')
let asked = 0

/** What the board shows: asked for a moment after the newest change, and dropped when another follows. */
async function ask(): Promise<void> {
  const mine = ++asked
  const now = overlap.value
  if (!now) return
  await new Promise((resolve) => setTimeout(resolve, 180))
  if (mine !== asked) return
  const params = { path: { item_id: now.id }, query: { board: board.value } }
  try {
    const found = await need(api.GET('/api/overlaps/{item_id}/advice', { params }))
    if (mine === asked) advice.value = found
  } catch (error) {
    // What goes well here in the background must not wipe away what somebody is being told.
    if (!(error instanceof Refused)) throw error
    if (mine === asked) trouble.value = error.message
  }
}

async function fetchStrips(): Promise<void> {
  const now = overlap.value
  if (!now) return
  const found = await need(api.GET('/api/overlaps/{item_id}/strips', { params: { path: { item_id: now.id } } })).catch(() => [])
  if (overlap.value?.revision === now.revision) strips.value = found
}

watch(
  () => `${overlap.value?.revision} ${board.value}`,
  () => {
    void ask()
  },
)

/** The advice, if it is on what lies there now. */
const freshAdvice = computed(() => {
  const found = advice.value
  return found && found.revision === overlap.value?.revision && found.board === board.value ? found : null
})

export function useDesk() {
  return {
    inks, cards, desk, overlap, stack, layers, card, trouble, loading, active, atHand, advice: freshAdvice, strips, overlaps, board,
    load, fetchDesk, fetchStrips, fetchOverlaps, change, changeLayer, layInk, treat, layBarrier, remove, move, mixWithBelow,
    takeApart, chooseCard, view, setMudLine, swap, apply, usePreset, open, peek, begin, copy, discard, takeIn, fillWithSample, lookAtPair,
    undo: () => step('undo'),
    redo: () => step('redo'),
  }
}

/**
 * The open overlap: what lies there, what it looks like, every change.
 *
 * Each change goes to the service at once, which makes it, stores it, journals it and answers with the new
 * colours; changes queue, so that the newest always wins and nothing is lost on reload. Which overlap is open
 * stands in the address. What would help is asked for once the colours are painted.
 *
 * @example const { stack, layInk, edit } = useOverlap()
 */
import { createGlobalState, useLocalStorage } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'

import {
  api,
  need,
  needOrNull,
  Refused,
  sendFile,
  type Advice,
  type Desk,
  type Entry,
  type Look,
  type OverlapItem,
  type Schemas,
  type StackChange,
  type StackEdit,
  type StashInk,
  type Strip,
  AmountField,
  type Summary,
} from '@/shared/api'
import { DEFAULT_MUD_LINE, type Board, type Illuminant, type Preset, type Treatment } from '../../generated/words'
import { useQueue } from '@/shared/queue'
import { useNewest } from '@/shared/newest'
import { at, idIn, nameInAddress, router } from '@/shared/router'
import { useStash } from '../stash/useStash'

const plainSettings = { illuminant: 'D65' as Illuminant, mud_line: null, constants: {} }

export const useOverlap = createGlobalState(() => {
  const { inks, cards, inkOf, atHand, fetchStash, attempt: told, quietly } = useStash()
  const desk = shallowRef<Desk | null>(null)
  const advice = shallowRef<Advice | null>(null)
  const strips = shallowRef<Strip[]>([])
  const fieldOf = shallowRef<{ id: number; field: AmountField | null } | null>(null)
  /** Of the overlap that is open, and of no other: its entries are meant when a spot is pressed. */
  const field = computed(() => (fieldOf.value && fieldOf.value.id === overlap.value?.id ? fieldOf.value.field : null))
  const overlaps = shallowRef<Summary[]>([])
  const loading = ref(true)
  /** Which overlap was open last, for a tab whose address names none. */
  const lastOpen = useLocalStorage('wempa-overlap', 0)
  /** The entry that is picked; the stack's length means the next one. */
  const active = ref(0)

  const overlap = computed(() => desk.value?.overlap ?? null)
  const card = computed(() => cards.value.find((each) => each.id === overlap.value?.card_id) ?? null)
  const stack = computed(() => overlap.value?.stack ?? [])
  const settings = computed(() => overlap.value?.settings ?? plainSettings)
  const light = computed(() => settings.value.illuminant ?? 'D65')
  /** From which mud on it is called muddy; of that what this overlap says itself, null for its owner's usual line. */
  const mudLine = computed(() => desk.value?.mud_line ?? DEFAULT_MUD_LINE)
  const ownLine = computed(() => settings.value.mud_line ?? null)
  /** What stands in an entry: its inks, and the place it has among the lay-downs. */
  const layers = computed(() => {
    let place = 0
    return stack.value.map((entry) => {
      const parts = entry.mix ?? (entry.ink_id ? [{ ink_id: entry.ink_id, share: 1 }] : [])
      const found = parts.map((part) => inkOf.value.get(part.ink_id) ?? null)
      return { entry, inks: found, place: parts.length ? place++ : null }
    })
  })

  const inTurn = useQueue((work) => told(work, fetchDesk))

  function show(found: Desk | null): void {
    const other = found?.overlap.id !== desk.value?.overlap.id
    desk.value = found
    if (found) lastOpen.value = found.overlap.id
    nameInAddress('overlap', found?.overlap.id ?? 0)
    const length = found?.overlap.stack.length ?? 0
    active.value = found?.picked ?? (other ? 0 : Math.min(active.value, length))
  }

  const read = (id: number): Promise<Desk> =>
    need(api.GET('/api/overlaps/{item_id}', { params: { path: { item_id: id } } }))

  const fetchOverlaps = useNewest(
    () => need(api.GET('/api/overlaps')),
    (found) => (overlaps.value = found),
  )

  async function fetchDesk(): Promise<void> {
    const wanted = idIn('overlap') || desk.value?.overlap.id || lastOpen.value
    const found = await needOrNull(api.GET('/api/overlaps/open', { params: { query: { overlap: wanted } } }))
    if (found) show(found)
    else if (atHand.value.length >= 2)
      show(await need(api.POST('/api/overlaps/new', { body: { empty: false, settings: plainSettings } })))
    else show(null)
  }

  async function load(): Promise<void> {
    loading.value = true
    await told(async () => {
      await fetchStash()
      await fetchDesk()
    }, fetchDesk)
    loading.value = false
  }

  async function fillWithSample(): Promise<void> {
    await told(async () => {
      await need(api.POST('/api/stash/sample'))
    })
    await load()
  }

  /** Change what is not the stack: name, card, light, mud line, where the work stands. */
  const change = (part: Partial<OverlapItem>, what: string): Promise<boolean> =>
    inTurn(async () => {
      const now = overlap.value
      if (!now) return
      const { id, revision, ...rest } = now
      const params = { path: { item_id: id }, query: { what }, header: { 'if-match': `"${revision}"` } }
      show(await need(api.PUT('/api/overlaps/{item_id}', { params, body: { ...(rest as OverlapItem), ...part } })))
    })

  /**
   * Change the stack; the service makes the change and says which entry to go on with. What depends on that entry
   * is a function: of two presses in quick succession the second is meant for what the first one picked.
   */
  const edit = (made: StackEdit | (() => StackEdit)): Promise<boolean> =>
    inTurn(async () => {
      const now = overlap.value
      if (!now) return
      const params = { path: { item_id: now.id }, header: { 'if-match': `"${now.revision}"` } }
      show(
        await need(
          api.POST('/api/overlaps/{item_id}/edit', {
            params,
            body: (typeof made === 'function' ? made() : made) as Schemas['StackEdit'],
          }),
        ),
      )
    })

  const changeLayer = (index: number, entry: Partial<Entry>, what = 'Change a layer'): Promise<boolean> =>
    edit({ do: 'change', at: index, entry, what })

  /** Lay an ink: instead of the picked entry, or on top when the next one is picked. */
  const layInk = (ink: StashInk, onTop = false): Promise<boolean> =>
    edit(() => ({ do: 'lay', at: active.value, ink_id: ink.id, on_top: onTop, what: `Lay ${ink.name}` }))

  const treat = (treatment: Treatment): Promise<boolean> =>
    edit({ do: 'treat', at: active.value, treatment, what: 'Treat' })
  const remove = (index: number): Promise<boolean> => edit({ do: 'take_out', at: index, what: 'Take out' })
  const move = (from: number, to: number): Promise<boolean> => edit({ do: 'move', at: from, to, what: 'Reorder' })
  /** Mix a lay-down with the one below into one premix. */
  const mixWithBelow = (index: number): Promise<boolean> => edit({ do: 'mix', at: index, what: 'Mix' })
  /** Take a premix apart into lay-downs of its inks. */
  const takeApart = (index: number): Promise<boolean> => edit({ do: 'unmix', at: index, what: 'Take apart' })
  const swap = (): Promise<boolean> => edit({ do: 'swap', at: active.value, what: 'Swap the two uppermost' })
  /** Apply what a fix or a nudge proposes. */
  const apply = (proposed: StackChange, what: string): Promise<boolean> =>
    edit({ do: 'apply', at: active.value, apply: proposed, what: what.slice(0, 200) })

  const chooseCard = (id: number): Promise<boolean> => change({ card_id: id }, 'Change the card')
  const view = (illuminant: Illuminant): Promise<boolean> =>
    change({ settings: { ...settings.value, illuminant } }, 'Change the light')
  const setMudLine = (line: number | null): Promise<boolean> =>
    change({ settings: { ...settings.value, mud_line: line } }, 'Move the mud line')

  const usePreset = (preset: Preset): Promise<boolean> =>
    inTurn(async () => {
      const now = overlap.value
      if (!now) return
      const params = { path: { item_id: now.id }, header: { 'if-match': `"${now.revision}"` } }
      show(await need(api.POST('/api/overlaps/{item_id}/preset', { params, body: { preset } })))
    })

  /** White pigment brushed thinly under everything, if there is one. */
  const layBarrier = (): Promise<boolean> => usePreset('white_barrier')

  /** Open a stored overlap and go to it. */
  async function open(id: number): Promise<boolean> {
    const went = await inTurn(async () => show(await read(id)))
    if (went) await router.push(at('overlap', id))
    return went
  }

  /** Show an overlap that the service has just made, and go to it. */
  async function goTo(made: Desk): Promise<void> {
    show(made)
    await router.push(at('overlap', made.overlap.id))
  }

  const pairs = new Map<string, Look>()

  /** One lay-down over another in full; what was asked once is known until something changes. */
  async function lookAtPair(below: number, above: number): Promise<Look | null> {
    const now = overlap.value
    if (!now) return null
    const key = `${now.id} ${now.revision} ${below}-${above}`
    const known = pairs.get(key)
    if (known) return known
    const params = { path: { item_id: now.id }, query: { below, above } }
    const found = await need(api.GET('/api/overlaps/{item_id}/pair', { params })).catch(() => null)
    if (pairs.size > 200) pairs.clear()
    if (found) pairs.set(key, found)
    return found
  }

  const begin = (): Promise<boolean> =>
    inTurn(async () => {
      await goTo(await need(api.POST('/api/overlaps/new', { body: { empty: true, settings: settings.value } })))
      await fetchOverlaps()
    })

  const copy = (id: number): Promise<boolean> =>
    inTurn(async () => {
      await goTo(await need(api.POST('/api/overlaps/{item_id}/copy', { params: { path: { item_id: id } } })))
      await fetchOverlaps()
    })

  const discard = (id: number): Promise<boolean> =>
    inTurn(async () => {
      overlaps.value = await need(api.DELETE('/api/overlaps/{item_id}', { params: { path: { item_id: id } } }))
      await fetchDesk()
    })

  const takeIn = (file: Blob): Promise<boolean> =>
    inTurn(async () => {
      const made = await sendFile<Desk>('/api/overlaps/import', file)
      await fetchStash()
      await goTo(made)
      await fetchOverlaps()
    })

  /** A step that another tab made in the meantime: it is not taken back unasked. */
  const questioned = ref<{ direction: 'undo' | 'redo'; text: string } | null>(null)
  const step = (direction: 'undo' | 'redo', anyway = false): Promise<boolean> =>
    inTurn(async () => {
      questioned.value = null
      const params = { params: { query: { anyway } } }
      try {
        await need(direction === 'undo' ? api.POST('/api/undo', params) : api.POST('/api/redo', params))
      } catch (error) {
        if (!(error instanceof Refused) || error.status !== 409) throw error
        questioned.value = { direction, text: error.message }
      }
      await Promise.all([fetchStash(), fetchOverlaps()])
      await fetchDesk()
    })

  /** Which board stands beside the verdict: only what it shows is asked for. */
  const board = useLocalStorage<Board>('wempa-board', 'help')
  const shown = computed(() => router.currentRoute.value.name === 'overlap')
  let asked = 0

  /** What the board shows: asked for a moment after the newest change, and dropped when another follows. */
  async function ask(): Promise<void> {
    const mine = ++asked
    const now = overlap.value
    // In another room nobody sees it, and what is asked for there would wait for it.
    if (!now || !shown.value || freshAdvice.value) return
    await new Promise((resolve) => setTimeout(resolve, 180))
    if (mine !== asked) return
    const params = { path: { item_id: now.id }, query: { board: board.value } }
    await quietly(async () => {
      const found = await need(api.GET('/api/overlaps/{item_id}/advice', { params }))
      if (mine === asked) advice.value = found
    })
  }

  async function fetchStrips(): Promise<void> {
    const now = overlap.value
    if (!now) return
    const found = await need(
      api.GET('/api/overlaps/{item_id}/strips', { params: { path: { item_id: now.id } } }),
    ).catch(() => [])
    if (overlap.value?.revision === now.revision) strips.value = found
  }

  /** Two inks in every amount against one another; a third in one step of its own. */
  const fetchField = useNewest(
    async (at: number | null = null) => {
      const now = overlap.value
      if (!now) return null
      const params = { path: { item_id: now.id }, query: at === null ? {} : { at } }
      return { now, field: await need(api.GET('/api/overlaps/{item_id}/amounts', { params })).catch(() => null) }
    },
    (found) => {
      if (found && overlap.value?.id === found.now.id && overlap.value.revision === found.now.revision)
        fieldOf.value = { id: found.now.id, field: found.field }
    },
  )
  /** Lay just so much of each. */
  const layAmounts = (amounts: { entry: number; amount: number }[]): Promise<boolean> =>
    edit({ do: 'amounts', at: active.value, amounts, what: 'How much of each' })

  watch(
    () => `${overlap.value?.id} ${overlap.value?.revision} ${board.value} ${shown.value}`,
    () => void ask(),
  )
  // Back, forward or a typed address: what it names is opened.
  watch(
    () => idIn('overlap'),
    (id) => {
      if (id && desk.value && id !== desk.value.overlap.id) void inTurn(async () => show(await read(id)))
      else if (!id && desk.value) nameInAddress('overlap', desk.value.overlap.id)
    },
  )

  /** The advice, if it is on what lies there now. */
  const freshAdvice = computed(() => {
    const found = advice.value
    return found && found.revision === overlap.value?.revision && found.board === board.value ? found : null
  })

  return {
    inks,
    cards,
    desk,
    overlap,
    stack,
    layers,
    card,
    light,
    mudLine,
    ownLine,
    loading,
    active,
    atHand,
    advice: freshAdvice,
    strips,
    field,
    overlaps,
    board,
    load,
    fetchDesk,
    fetchStrips,
    fetchField,
    layAmounts,
    fetchOverlaps,
    change,
    changeLayer,
    layInk,
    treat,
    layBarrier,
    remove,
    move,
    mixWithBelow,
    takeApart,
    chooseCard,
    view,
    setMudLine,
    swap,
    apply,
    usePreset,
    open,
    goTo,
    peek: read,
    begin,
    copy,
    discard,
    takeIn,
    fillWithSample,
    lookAtPair,
    undo: () => step('undo'),
    redo: () => step('redo'),
    questioned,
    stepAnyway: () => (questioned.value ? step(questioned.value.direction, true) : Promise.resolve(false)),
  }
})

/**
 * The swatch book: what is logged, what is learned from it, and every change to it.
 *
 * @example const { book, log, learn } = useLog()
 */
import { createGlobalState, useLocalStorage } from '@vueuse/core'
import { ref, shallowRef } from 'vue'

import {
  api,
  linesOf,
  need,
  Refused,
  type Book,
  type DraftsIn,
  type Learned,
  type LearnLine,
  type Schemas,
  type Swatch,
  type SwatchItem,
} from '@/shared/api'
import { useNewest } from '@/shared/newest'
import { at, router } from '@/shared/router'
import { useQueue } from '@/shared/queue'
import { useStash } from '../stash/useStash'
import type { BookOrder, OwnVerdict } from '../../generated/words'

const hungUp = (error: unknown): boolean => error instanceof DOMException && error.name === 'AbortError'

export const useLog = createGlobalState(() => {
  const { attempt, fetchStash } = useStash()
  const book = shallowRef<Book | null>(null)
  const open = shallowRef<Swatch | null>(null)
  const sought = useLocalStorage('wempa-book', {
    order: 'date' as BookOrder,
    find: '',
    near: '',
    verdict: '' as OwnVerdict | '',
    tag: '',
    favourites: false,
  })
  const learned = shallowRef<Learned | null>(null)
  const learning = ref(false)
  const done = ref(0)
  /** Swatches whose squares are to be photographed next. */
  const chosen = ref<number[]>([])
  /** What is to be logged of another room, once the book is open. */
  const toLog = shallowRef<Partial<DraftsIn> | null>(null)
  let work: AbortController | null = null

  const fetchBook = useNewest(
    () => {
      const { order, find, near, verdict, tag, favourites } = sought.value
      const query = { order, find, near, tag, favourites, ...(verdict ? { verdict } : {}) }
      return need(api.GET('/api/log', { params: { query } }))
    },
    (found) => (book.value = found),
  )

  const fetchSwatch = useNewest(
    (id: number) => need(api.GET('/api/log/{item_id}', { params: { path: { item_id: id } } })),
    (found) => (open.value = found),
  )
  const openSwatch = (id: number): Promise<boolean> => attempt(() => fetchSwatch(id))

  /** The book and what is open in it once more, after a step back or in another room: it may be gone. */
  async function reread(): Promise<void> {
    await fetchBook()
    const id = open.value?.id
    if (id === undefined) return
    try {
      await fetchSwatch(id)
    } catch (error) {
      if (!(error instanceof Refused) || error.status !== 404) throw error
      if (open.value?.id === id) open.value = null
    }
  }

  /** Go to the book with something to log. */
  const logIt = (asked: Partial<DraftsIn>): void => {
    toLog.value = asked
    void router.push(at('log'))
  }

  /** Swatches as they would be logged; nothing is stored yet. */
  const draftsOf = (asked: Partial<DraftsIn>): Promise<SwatchItem[]> =>
    need(api.POST('/api/log/drafts', { body: { name: '', ...asked } }))

  async function log(swatches: SwatchItem[]): Promise<Swatch[]> {
    const made = await need(api.POST('/api/log', { body: { swatches } }))
    await fetchBook()
    return made
  }

  // One press may follow another before its answer is there: a verdict, say, ends the notes that were being typed.
  const inTurn = useQueue((work) =>
    attempt(work, async () => {
      if (open.value) await openSwatch(open.value.id)
    }),
  )

  /** Change the swatch that is open now, though another one may be when its turn comes. */
  function change(part: Partial<SwatchItem>): Promise<boolean> {
    const id = open.value?.id
    return inTurn(async () => {
      if (id === undefined) return
      const path = { item_id: id }
      const now = open.value?.id === id ? open.value : await need(api.GET('/api/log/{item_id}', { params: { path } }))
      const params = { path, header: { 'if-match': String(now.revision) } }
      const changed = await need(api.PUT('/api/log/{item_id}', { params, body: { ...now.item, ...part } }))
      if (open.value?.id === id) open.value = changed
      await fetchBook()
    })
  }

  /** Write down a look by its colour, as it was typed or measured. */
  const addLook = (id: number, look: Schemas['LookIn']): Promise<boolean> =>
    inTurn(async () => {
      const changed = await need(api.POST('/api/log/{item_id}/look', { params: { path: { item_id: id } }, body: look }))
      if (open.value?.id === id) open.value = changed
      await fetchBook()
    })

  const discard = (id: number): Promise<boolean> =>
    inTurn(async () => {
      const answer = await api.DELETE('/api/log/{item_id}', { params: { path: { item_id: id } } })
      if (!answer.response.ok) throw new Refused('It could not be taken out of the book.', answer.response.status)
      if (open.value?.id === id) open.value = null
      await fetchBook()
    })

  async function learn(): Promise<void> {
    work?.abort()
    const mine = (work = new AbortController())
    learning.value = true
    done.value = 0
    await attempt(async () => {
      try {
        for await (const line of linesOf<LearnLine>('/api/log/learn', { method: 'POST', signal: mine.signal })) {
          if (mine !== work) return
          if (line.state === 'refused') throw new Refused(line.error ?? '', 422)
          done.value = line.done ?? 0
          if (line.result) learned.value = line.result
        }
      } catch (error) {
        if (!hungUp(error)) throw error
      }
    })
    if (mine === work) learning.value = false
  }

  const stopLearning = (): void => {
    work?.abort()
    learning.value = false
  }

  /** Go by what was learned, a line or an earlier lesson; then everything is shown by it. */
  const go = (what: () => Promise<unknown>): Promise<boolean> =>
    attempt(async () => {
      await what()
      await fetchBook()
      await fetchStash()
    })
  const adopt = (): Promise<boolean> =>
    go(async () => {
      await need(api.POST('/api/log/adopt', { params: { query: { again: true } } }))
      learned.value = null
    })
  const takeLine = (of: string): Promise<boolean> =>
    go(() => need(api.POST('/api/log/lines/{of}', { params: { path: { of } } })))
  const takeBack = (id: number): Promise<boolean> =>
    go(() => need(api.POST('/api/log/lessons/{item_id}/back', { params: { path: { item_id: id } } })))

  return {
    book,
    open,
    sought,
    learned,
    learning,
    done,
    chosen,
    toLog,
    logIt,
    fetchBook,
    reread,
    openSwatch,
    draftsOf,
    log,
    change,
    addLook,
    discard,
    learn,
    stopLearning,
    adopt,
    takeLine,
    takeBack,
  }
})

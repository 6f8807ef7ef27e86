/**
 * The match: a wanted colour, the search for it, and what the stash can make already.
 *
 * A search answers line by line, so that it can be watched and hung up on; asking anew
 * cancels the one before.
 *
 * @example const { asked, find, line } = useMatch()
 */
import { createGlobalState, useLocalStorage } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'

import { linesOf, Refused, type MatchIn, type MatchLine, type Reserve, type Target } from '@/shared/api'
import { useOverlap } from '../overlap/useOverlap'
import { useStash } from '../stash/useStash'

const hungUp = (error: unknown): boolean => error instanceof DOMException && error.name === 'AbortError'

export const useMatch = createGlobalState(() => {
  const { attempt } = useStash()
  const { light } = useOverlap()

  const asked = useLocalStorage('wempa-match', {
    target: { colour: { hex: '#8a6fb0' } } as Target,
    /** What the target is called, when it is no typed colour. */
    name: '',
    card: null as number | null,
    start: null as number | null,
    most: 3,
    thin: false,
    without: [] as number[],
  })
  const line = shallowRef<MatchLine | null>(null)
  const searching = ref(false)
  const cancelled = ref(false)
  const reserve = shallowRef<Reserve[]>([])
  const listing = ref(false)

  let search: AbortController | null = null
  let list: AbortController | null = null

  async function find(exact = false): Promise<void> {
    search?.abort()
    const mine = (search = new AbortController())
    searching.value = true
    cancelled.value = false
    const { target, card, start, most, thin, without } = asked.value
    const body: MatchIn = { target, card_id: card, start, most, thin, without, exact, illuminant: light.value }
    await attempt(async () => {
      try {
        const init = {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(body),
          signal: mine.signal,
        }
        for await (const each of linesOf<MatchLine>('/api/match', init)) {
          if (mine !== search) return
          if (each.state === 'refused') throw new Refused(each.error ?? 'The search was refused.', 422)
          // What was found before stays to be looked at while the next search runs.
          line.value =
            each.state === 'done'
              ? each
              : { ...each, answers: line.value?.target === each.target ? line.value.answers : [] }
        }
      } catch (error) {
        if (!hungUp(error)) {
          line.value = null
          throw error
        }
      }
    })
    if (mine === search) searching.value = false
  }

  function cancel(): void {
    search?.abort()
    search = null
    searching.value = false
    cancelled.value = true
  }

  /** Which colours can be made already; the service keeps what it found for as long as the stash stays as it is. */
  async function fetchReserve(): Promise<void> {
    list?.abort()
    const mine = (list = new AbortController())
    listing.value = true
    const found: Reserve[] = []
    const query = new URLSearchParams({ illuminant: light.value })
    if (asked.value.card !== null) query.set('card_id', String(asked.value.card))
    await attempt(async () => {
      try {
        reserve.value = []
        for await (const each of linesOf<Reserve>(`/api/reserve?${query}`, { signal: mine.signal })) {
          if (mine !== list) return
          found.push(each)
          reserve.value = [...found]
        }
      } catch (error) {
        if (!hungUp(error)) throw error
      }
    })
    if (mine === list) listing.value = false
  }
  const printHref = computed(() => {
    const query = new URLSearchParams({ illuminant: light.value })
    if (asked.value.card !== null) query.set('card_id', String(asked.value.card))
    return `/api/reserve.pdf?${query}`
  })

  return {
    asked,
    line,
    searching,
    cancelled,
    reserve,
    listing,
    light,
    printHref,
    find,
    cancel,
    fetchReserve,
    stopListing: () => list?.abort(),
  }
})

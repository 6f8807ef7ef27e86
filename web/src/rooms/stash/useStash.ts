/**
 * The stash: inks, cards, tools and ranges, and every change to them.
 *
 * Changes go to the service together, are stored together and undone together; the
 * answer is the whole stash as it is then.
 *
 * @example const { atHand, nameOf, change } = useStash()
 */
import { createGlobalState } from '@vueuse/core'
import { computed, shallowRef } from 'vue'

import { api, need, Refused, type Change, type StashView } from '@/shared/api'
import { inkNames } from '@/shared/names'
import { useNewest } from '@/shared/newest'
import { useQueue } from '@/shared/queue'
import { useTrouble } from '@/shared/trouble'

export const useStash = createGlobalState(() => {
  const stash = shallowRef<StashView | null>(null)
  const { trouble } = useTrouble()

  const inks = computed(() => stash.value?.inks ?? [])
  const cards = computed(() => stash.value?.cards ?? [])
  const tools = computed(() => stash.value?.tools ?? [])
  const ranges = computed(() => stash.value?.ranges ?? [])
  const reminders = computed(() => stash.value?.reminders ?? [])
  const unreadable = computed(() => stash.value?.unreadable ?? [])
  const inkOf = computed(() => new Map(inks.value.map((ink) => [ink.id, ink])))
  /** Inks that can be laid down. */
  const atHand = computed(() => inks.value.filter((ink) => ink.item.standing === 'owned'))
  const names = computed(() => inkNames(inks.value))
  /** The name of an ink, with its formula where another has the same name. */
  const nameOf = (id: number): string => names.value(id)

  const fetchStash = useNewest(
    () => need(api.GET('/api/stash')),
    (found) => (stash.value = found),
  )

  /**
   * Do something with the service; what it refuses is said on the page. True if it went well.
   * `again` reads anew what was changed elsewhere in the meantime.
   */
  async function attempt(work: () => Promise<void>, again: () => Promise<void> = fetchStash): Promise<boolean> {
    // At the start and not at the end: what ends well must not wipe away what was refused meanwhile.
    trouble.value = null
    try {
      await work()
      return true
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      trouble.value = error.message
      if (error.status === 409) await again()
      return false
    }
  }

  /** Do something nobody waits for: a refusal is said, and what goes well wipes nothing away that is being told. */
  async function quietly(work: () => Promise<void>): Promise<void> {
    try {
      await work()
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      trouble.value = error.message
    }
  }

  const inTurn = useQueue(attempt)

  /**
   * Make, change or delete items together. What depends on how an item is when its turn comes, its revision above
   * all, is a function; where it finds nothing to change, nothing is asked.
   */
  const change = (what: string, changes: Change[] | (() => Change[])): Promise<boolean> =>
    inTurn(async () => {
      const now = typeof changes === 'function' ? changes() : changes
      if (now.length) stash.value = await need(api.POST('/api/stash/changes', { body: { what, changes: now } }))
    })

  return {
    stash,
    inks,
    cards,
    tools,
    ranges,
    reminders,
    unreadable,
    inkOf,
    atHand,
    nameOf,
    trouble,
    fetchStash,
    attempt,
    quietly,
    change,
  }
})

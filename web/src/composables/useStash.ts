/**
 * The stash: inks, cards, tools and ranges, and every change to them.
 *
 * Changes go to the service together, are stored together and undone together; the
 * answer is the whole stash as it is then.
 */
import { computed, ref, shallowRef } from 'vue'

import { api, need, Refused, type Change, type StashView } from '../api'
import { twinNames } from '../names'

const stash = shallowRef<StashView | null>(null)
const trouble = ref<string | null>(null)

const inks = computed(() => stash.value?.inks ?? [])
const cards = computed(() => stash.value?.cards ?? [])
const tools = computed(() => stash.value?.tools ?? [])
const ranges = computed(() => stash.value?.ranges ?? [])
const reminders = computed(() => stash.value?.reminders ?? [])

/** Names that more than one formula goes by: the formula is told wherever they stand. */
const twins = computed(() => twinNames(inks.value))

async function fetchStash(): Promise<void> {
  stash.value = await need(api.GET('/api/stash'))
}

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

let queue: Promise<boolean> = Promise.resolve(true)

/** Make, change or delete items together. */
function change(what: string, changes: Change[]): Promise<boolean> {
  queue = queue.then(() =>
    attempt(async () => {
      stash.value = await need(api.POST('/api/stash/changes', { body: { what, changes } }))
    }),
  )
  return queue
}

export function useStash() {
  return { stash, inks, cards, tools, ranges, reminders, twins, trouble, fetchStash, attempt, change }
}

/**
 * The first walk: four steps on the sample stash that do real work. Which one is next follows from what lies
 * on the table, so that doing it is what leads on; it can be left at any time, and taken again.
 */
import { createGlobalState, until, useLocalStorage } from '@vueuse/core'
import { computed, watch } from 'vue'

import { useStash } from '../stash/useStash'
import { useOverlap } from './useOverlap'

/** What the walk is done with. */
export const WALK = { lower: 'Boiler Blue', upper: 'Firebox Orange', card: 'Mint Waiting Room' }
/** The four steps in order, and what stands before and after them. */
export type Stage = 'offered' | 'lay' | 'read' | 'fix' | 'card' | 'done' | 'left'
const STEPS: Stage[] = ['lay', 'read', 'fix', 'card']

export const useWalk = createGlobalState(() => {
  const { stash, inks, cards } = useStash()
  const { overlap, desk, advice, begin, layInk, apply, chooseCard } = useOverlap()
  const kept = useLocalStorage<{ stage: Stage; overlap: number }>('wempa-walk', { stage: 'offered', overlap: 0 })

  const inkOf = (name: string) => inks.value.find((ink) => ink.name === name)
  const mint = computed(() => cards.value.find((card) => card.name === WALK.card))
  const possible = computed(() => Boolean(stash.value?.sample && inkOf(WALK.lower) && inkOf(WALK.upper) && mint.value))
  const entries = computed(() => (overlap.value?.id === kept.value.overlap ? overlap.value.stack : []))
  const laid = computed(() => new Set(entries.value.map((entry) => entry.ink_id).filter(Boolean)))

  /** Where one is; what was done leads on by itself. */
  const stage = computed<Stage>(() => {
    const at = kept.value.stage
    if (!possible.value) return 'left'
    if (!STEPS.includes(at)) return at
    // Another overlap lies on the table: the walk waits.
    if (overlap.value?.id !== kept.value.overlap) return 'left'
    if (laid.value.size < 2) return 'lay'
    if (at === 'lay') return 'read'
    if (at === 'fix' && desk.value?.crossing.full.verdict.kind !== 'muddy') return 'card'
    return at === 'card' && overlap.value.card_id === mint.value?.id ? 'done' : at
  })
  const number = computed(() => STEPS.indexOf(stage.value) + 1)
  // What was come to stays, whatever the next step does to the colours.
  watch(stage, (now) => STEPS.includes(now) && now !== kept.value.stage && turnTo(now))
  const turnTo = (to: Stage): void => void (kept.value = { ...kept.value, stage: to })

  async function start(): Promise<void> {
    await begin()
    kept.value = { stage: 'lay', overlap: overlap.value?.id ?? 0 }
  }
  /** Do the step for whoever would rather look on. */
  async function doIt(): Promise<void> {
    if (stage.value === 'lay') {
      for (const ink of [inkOf(WALK.lower), inkOf(WALK.upper)])
        if (ink && !laid.value.has(ink.id)) await layInk(ink, true)
    } else if (stage.value === 'read') turnTo('fix')
    else if (stage.value === 'fix') {
      // The page may still be asking what would save it.
      await until(() => advice.value?.revision === overlap.value?.revision && advice.value?.board === 'help').toBe(
        true,
        { timeout: 20_000 },
      )
      const first = advice.value?.fixes.find((fix) => fix.change)
      if (first?.change) await apply(first.change, first.text)
    } else if (stage.value === 'card' && mint.value) {
      turnTo('card')
      await chooseCard(mint.value.id)
    }
  }
  return { stage, number, possible, start, doIt, leave: () => turnTo('left') }
})

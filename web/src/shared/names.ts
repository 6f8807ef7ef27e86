/** What inks, and the entries of a stack, are called. */
import type { Entry, StashInk } from './api'
import { formulaSaid, treatmentSaid } from '../generated/words'

/** Names that more than one formula goes by: there the formula is told as well. */
export function twinNames(inks: readonly StashInk[]): ReadonlySet<string> {
  const formulas = new Map<string, Set<string>>()
  for (const ink of inks) formulas.set(ink.name, (formulas.get(ink.name) ?? new Set()).add(ink.formula))
  return new Set([...formulas].filter(([, found]) => found.size > 1).map(([name]) => name))
}

/** The name of an ink by its number, with its formula where another has the same name. */
export function inkNames(inks: readonly StashInk[]): (id: number) => string {
  const byId = new Map(inks.map((ink) => [ink.id, ink]))
  const twins = twinNames(inks)
  return (id) => {
    const ink = byId.get(id)
    if (!ink) return 'an ink no longer here'
    return twins.has(ink.name) ? `${ink.name} (${formulaSaid[ink.formula]})` : ink.name
  }
}

/** A name for each entry: its ink, its mix, or what is done. */
export function entryNames(stack: readonly Entry[], inks: readonly StashInk[]): string[] {
  const nameOf = inkNames(inks)
  return stack.map((entry) => {
    if (entry.treatment) return treatmentSaid[entry.treatment]
    if (entry.mix) return entry.mix.map((part) => nameOf(part.ink_id)).join(' + ')
    return nameOf(entry.ink_id ?? -1)
  })
}

/** Several names in one: a, b and c. */
export const joined = (names: readonly string[]): string =>
  names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`

/** When in an order something comes, counted from 0: 1st, 2nd, 3rd, 4th … */
export function ordinal(n: number): string {
  const at = n + 1
  const teen = at % 100 >= 11 && at % 100 <= 13
  return `${at}${teen ? 'th' : (['th', 'st', 'nd', 'rd'][at % 10] ?? 'th')}`
}

/**
 * The addresses of the page: a room each, and what is open in it, so that reload, back and two tabs work.
 *
 * @example router.push(at('panel', 3)) // #/panel/3
 */
import { createRouter, createWebHashHistory, type RouteLocationRaw } from 'vue-router'

export const rooms = [
  { name: 'overlap', said: 'Overlap', key: '1' },
  { name: 'chart', said: 'Chart', key: '2' },
  { name: 'match', said: 'Match', key: '3' },
  { name: 'panel', said: 'Panel', key: '4' },
  { name: 'table', said: 'Table', key: '5' },
  { name: 'log', said: 'Swatch book', key: '6' },
  { name: 'stash', said: 'Stash', key: '7' },
  { name: 'guide', said: 'Formulas', key: '8' },
] as const
export type RoomName = (typeof rooms)[number]['name']

/** Filled with the rooms' pages by `pages.ts`. */
export const router = createRouter({ history: createWebHashHistory(), routes: [] })

// Where one is going while the page of that room is still being fetched.
let onTheWay: unknown = null
router.beforeEach((to) => {
  onTheWay = to.name
})
router.afterEach(() => {
  onTheWay = null
})
router.onError(() => {
  onTheWay = null
})

/** Where a room is, with what is to be open in it. */
export const at = (name: RoomName, id?: number): RouteLocationRaw => ({ name, params: id ? { id } : {} })

/** The number that the address names in a room; 0 where it names none or another room is open. */
export const idIn = (name: RoomName): number => {
  const now = router.currentRoute.value
  return now.name === name ? Number(now.params['id'] ?? 0) : 0
}

/** Say in the address what is open, if its room is and nobody is leaving it; not a step that back goes to. */
export function nameInAddress(name: RoomName, id: number): void {
  const now = router.currentRoute.value
  if (onTheWay !== null && onTheWay !== name) return
  if (now.name === name && idIn(name) !== id) void router.replace(at(name, id))
}

/**
 * One item of the stash being edited: what is changed is stored at once, a new one when it is made.
 *
 * @example const { draft, put, keep, make, remove } = useDraft('card', () => card, blank)
 */
import { useSessionStorage } from '@vueuse/core'
import { ref, watch, type Ref } from 'vue'

import type { CardItem, InkItem, ToolItem } from '@/shared/api'
import { useStash } from './useStash'

interface Items {
  ink: InkItem
  card: CardItem
  tool: ToolItem
}
interface Stored<T> {
  id: number
  revision: number
  item: T
}

const copyOf = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
const same = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other)

export function useDraft<K extends keyof Items>(kind: K, stored: () => Stored<Items[K]> | null, blank: () => Items[K]) {
  type Item = Items[K]
  const { stash, change } = useStash()
  // What is typed for a new item is still there after a reload.
  const begun = useSessionStorage(`wempa-new-${kind}`, blank())
  const draft = ref(blank()) as Ref<Item>
  watch(
    stored,
    (now, before) => {
      const fresh = copyOf(now ? now.item : begun.value)
      // What was changed here and is still on its way outlives the answer to what was sent before it.
      if (now && before && now.id === before.id) Object.assign(fresh, differing(draft.value, before.item))
      draft.value = fresh
    },
    { immediate: true },
  )

  /** The fields in which an item differs from what is stored. */
  function differing(item: Item, from: Item): Partial<Item> {
    const names = [...new Set([...Object.keys(item), ...Object.keys(from)])] as (keyof Item)[]
    return Object.fromEntries(
      names.filter((name) => !same(item[name], from[name])).map((name) => [name, item[name]]),
    ) as Partial<Item>
  }

  /** The item as the service last told it: what the page was given may be older. */
  function newest(id: number): Stored<Item> | null {
    const items = { ink: stash.value?.inks, card: stash.value?.cards, tool: stash.value?.tools }[kind] as
      Stored<Item>[] | undefined
    return items?.find((each) => each.id === id) ?? null
  }

  /** Store what was changed; what is refused is taken back, so that it does not stand in the way of the next change. */
  async function keep(what = 'Change'): Promise<void> {
    const now = stored()
    if (!now) {
      begun.value = copyOf(draft.value)
      return
    }
    const part = differing(draft.value, now.item)
    const done = await change(`${what} ${draft.value.name || now.item.name}`, () => {
      const then = newest(now.id) ?? now
      const item = { ...then.item, ...part }
      return same(item, then.item)
        ? []
        : [{ kind, id: then.id, revision: then.revision, item: item as unknown as Record<string, unknown> }]
    })
    const after = newest(now.id)
    if (!after || stored()?.id !== now.id) return
    // Taken as the service has it, unless it was changed once more in the meantime.
    const settled = (Object.keys(part) as (keyof Item)[]).filter((name) => !done || same(draft.value[name], part[name]))
    draft.value = { ...draft.value, ...Object.fromEntries(settled.map((name) => [name, after.item[name]])) }
  }

  /** Change some of it and store it. */
  function put(part: Partial<Item>, what?: string): void {
    draft.value = { ...draft.value, ...part }
    void keep(what)
  }

  /** Store a new item; its name if that went well. */
  async function make(): Promise<string | null> {
    const { name } = draft.value
    if (!(await change(`Add ${name}`, [{ kind, item: copyOf(draft.value) as unknown as Record<string, unknown> }])))
      return null
    begun.value = blank()
    return name
  }

  /** Delete it; true if that went well. */
  function remove(): Promise<boolean> {
    const now = stored()
    return change(`Delete ${draft.value.name}`, () => {
      const then = now && (newest(now.id) ?? now)
      return then ? [{ kind, id: then.id, revision: then.revision }] : []
    })
  }

  return { draft, keep, put, make, remove }
}

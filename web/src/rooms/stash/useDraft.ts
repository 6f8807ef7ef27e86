/**
 * One item of the stash being edited: what is changed is stored at once, a new one when it is made.
 *
 * @example const { draft, put, keep, make, remove } = useDraft('card', () => card, blank)
 */
import { useSessionStorage } from '@vueuse/core'
import { ref, watch, type Ref } from 'vue'

import type { CardItem, Change, InkItem, ToolItem } from '@/shared/api'
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

export function useDraft<K extends keyof Items>(kind: K, stored: () => Stored<Items[K]> | null, blank: () => Items[K]) {
  const { change } = useStash()
  // What is typed for a new item is still there after a reload.
  const begun = useSessionStorage(`wempa-new-${kind}`, blank())
  const draft = ref(blank()) as Ref<Items[K]>
  watch(stored, (now) => (draft.value = copyOf(now ? now.item : begun.value)), { immediate: true })

  const asChange = (item: Items[K] | null): Change => {
    const now = stored()
    return {
      kind,
      ...(now ? { id: now.id, revision: now.revision } : {}),
      ...(item ? { item: copyOf(item) as unknown as Record<string, unknown> } : {}),
    }
  }

  /** Store what was changed; what is refused is taken back, so that it does not stand in the way of the next change. */
  async function keep(what = 'Change'): Promise<void> {
    const now = stored()
    if (!now) begun.value = copyOf(draft.value)
    else if (JSON.stringify(draft.value) !== JSON.stringify(now.item)) {
      const done = await change(`${what} ${draft.value.name || now.item.name}`, [asChange(draft.value)])
      if (!done) draft.value = copyOf(stored()?.item ?? now.item)
    }
  }

  /** Change some of it and store it. */
  function put(part: Partial<Items[K]>, what?: string): void {
    draft.value = { ...draft.value, ...part }
    void keep(what)
  }

  /** Store a new item; its name if that went well. */
  async function make(): Promise<string | null> {
    const { name } = draft.value
    if (!(await change(`Add ${name}`, [asChange(draft.value)]))) return null
    begun.value = blank()
    return name
  }

  /** Delete it; true if that went well. */
  const remove = (): Promise<boolean> => change(`Delete ${draft.value.name}`, [asChange(null)])

  return { draft, keep, put, make, remove }
}

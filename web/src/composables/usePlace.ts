/** Which view is open; it stands in the address, so that reload and back work. */
import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'

export const places = ['overlap', 'chart', 'match', 'panel', 'stash', 'guide'] as const
export type PlaceName = (typeof places)[number]

const read = (): PlaceName => places.find((place) => `#${place}` === location.hash) ?? 'overlap'
const place = ref<PlaceName>(read())

export function usePlace() {
  useEventListener('hashchange', () => {
    place.value = read()
  })
  return place
}

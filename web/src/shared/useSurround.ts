/** The grey around the card, light or dark; kept by the browser between visits. */
import { useLocalStorage } from '@vueuse/core'
import { watchEffect } from 'vue'

export type Surround = 'light' | 'dark'

export function useSurround() {
  const surround = useLocalStorage<Surround>('wempa-surround', 'light')
  watchEffect(() => {
    document.documentElement.dataset['surround'] = surround.value
  })
  return surround
}

/**
 * What was refused last, in the service's one sentence, and where it is told: on the sheet that lies open, or else on
 * the page.
 *
 * @example const { trouble } = useTrouble()
 */
import { createGlobalState } from '@vueuse/core'
import { computed, ref } from 'vue'

export const useTrouble = createGlobalState(() => {
  const trouble = ref<string | null>(null)
  /** Sheets that lie over the page. */
  const sheets = ref(0)
  const onPage = computed(() => (sheets.value ? null : trouble.value))
  /** The laptop does not know this device any more. */
  const unpaired = ref(false)
  return { trouble, sheets, onPage, unpaired }
})

import { useLocalStorage } from '@vueuse/core'

/** Whether a key goes into a field, so that it is no command. */
export const typing = (event: KeyboardEvent): boolean =>
  event.target instanceof HTMLElement &&
  event.target.closest(
    'input:not([readonly], [type=checkbox], [type=radio], [type=file]), textarea, [contenteditable]',
  ) !== null

/** Whether single keys are commands; who dictates or hits keys by chance turns them off. */
export const singleKeys = useLocalStorage('wempa-single-keys', true)

/** The next of a list of choices, going round. */
export const nextOf = <T extends string>(all: readonly { value: T }[], now: T): T =>
  all[(all.findIndex((each) => each.value === now) + 1) % all.length]?.value ?? now

/** Whether a plain key may be taken as a command: not typed, no modifier, nothing lying over the page. */
export const isCommand = (event: KeyboardEvent): boolean =>
  singleKeys.value &&
  !(event.ctrlKey || event.metaKey || event.altKey || typing(event)) &&
  document.querySelector('dialog[open]') === null

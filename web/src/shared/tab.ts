/** What this tab calls itself, so that nobody takes back its work unasked. */

const KEY = 'wempa-tab'

/**
 * A name of 24 letters and figures: the same after a reload, another in every tab. Where the browser keeps
 * nothing for a page (or refuses to), the name lasts as long as the page.
 */
export function tabName(storage: () => Pick<Storage, 'getItem' | 'setItem'> = () => sessionStorage): string {
  const made = [...crypto.getRandomValues(new Uint8Array(12))]
    .map((byte) => byte.toString(16).padStart(2, '0'))
    .join('')
  try {
    const kept = storage()
    const known = kept.getItem(KEY)
    if (known) return known
    kept.setItem(KEY, made)
  } catch {
    return made
  }
  return made
}

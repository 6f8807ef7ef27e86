/** Files that the service makes: fetched, so that a refusal reaches the page, and then saved. */
import { Refused } from './api'

/** The name that an answer gives its file. */
export const fileName = (disposition: string | null): string => /filename="([^"]+)"/.exec(disposition ?? '')?.[1] ?? 'wempa'

/** Save what is at an address; throws `Refused` with the service's sentence. */
export async function saveFile(href: string): Promise<void> {
  const response = await fetch(href).catch(() => null)
  if (!response) throw new Refused('Wempa does not answer. Is it still running?', 0)
  if (!response.ok) {
    const said = (await response.json().catch(() => ({}))) as { error?: string }
    throw new Refused(said.error ?? `The file could not be made (${response.status}).`, response.status)
  }
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await response.blob())
  link.download = fileName(response.headers.get('content-disposition'))
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}

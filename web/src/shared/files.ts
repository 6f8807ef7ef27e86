/** Files that the service makes: fetched, so that a refusal reaches the page, and then saved. */
import { fetched } from './api'

/** The name that an answer gives its file. */
export const fileName = (disposition: string | null): string =>
  /filename="([^"]+)"/.exec(disposition ?? '')?.[1] ?? 'wempa'

/** Save what is at an address; throws `Refused` with the service's sentence. */
export async function saveFile(href: string): Promise<void> {
  const response = await fetched(href)
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await response.blob())
  link.download = fileName(response.headers.get('content-disposition'))
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}

/*
 * Keeps the page and the run under way on the device, so that a sleeping laptop does not stop the work at the mat.
 * Whatever can be asked anew is; only where nobody answers does what was kept stand in. It is set up when a run is begun.
 */
const KEPT = 'wempa-1'
// What the mat needs beside the run, which the page keeps itself; everything else goes to the service as if this were not here.
const ASKED = /^\/api\/(table|table\/look\.png|stash|pairing|overlaps\/open|log|panels\/open)$/

self.addEventListener('install', () => self.skipWaiting())
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()))

// The page says what it has fetched: its files and what the mat needs are kept, and files of an earlier version go.
self.addEventListener('message', (event) => event.waitUntil(keep(event.data).then(() => event.source?.postMessage('kept'))))

self.addEventListener('fetch', (event) => {
  const { request } = event
  const url = new URL(request.url)
  if (request.method !== 'GET' || url.origin !== self.location.origin) return
  if (url.pathname.startsWith('/assets/')) event.respondWith(kept(request))
  else if (url.pathname === '/' || ASKED.test(url.pathname)) event.respondWith(fresh(request, url))
})

async function keep(files) {
  if (!Array.isArray(files)) return
  const cache = await caches.open(KEPT)
  const wanted = new Set(['/api/table', ...files, '/'].map((file) => new URL(file, self.location.origin)).filter((url) => url.origin === self.location.origin).map(String))
  for (const request of await cache.keys()) {
    if (new URL(request.url).pathname.startsWith('/assets/') && !wanted.has(request.url)) await cache.delete(request)
  }
  for (const href of wanted) {
    const url = new URL(href)
    const asset = url.pathname.startsWith('/assets/')
    if (asset ? await cache.match(href) : url.pathname !== '/' && !ASKED.test(url.pathname)) continue
    const answer = await fetch(href).catch(() => null)
    if (answer?.ok && !answer.redirected) await cache.put(href, answer)
  }
}

async function kept(request) {
  return (await (await caches.open(KEPT)).match(request)) ?? fetch(request)
}

async function fresh(request, url) {
  const cache = await caches.open(KEPT)
  try {
    const answer = await fetch(request)
    if (answer.ok && !answer.redirected) await cache.put(url.href, answer.clone())
    return answer
  } catch (error) {
    const held = await cache.match(url.href)
    if (held) return held
    throw error
  }
}

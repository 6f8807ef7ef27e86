import { Refused, framed, linesOf, need, needOrNull, sendFile } from '../../web/src/shared/api'

const answers = (...given: (Response | Error)[]) => {
  const asked: [string, RequestInit | undefined][] = []
  vi.stubGlobal('fetch', (path: string, init?: RequestInit) => {
    asked.push([path, init])
    const next = given.shift()!
    return next instanceof Error ? Promise.reject(next) : Promise.resolve(next)
  })
  return asked
}
const json = (body: unknown, status = 200) => new Response(JSON.stringify(body), { status })

afterEach(() => vi.unstubAllGlobals())

describe('what is needed of an answer', () => {
  const got = <T>(data: T | undefined, error?: unknown, status = 200) => Promise.resolve({ data, error, response: new Response(null, { status }) })

  test('is its data', async () => {
    expect(await need(got({ name: 'Snow' }))).toEqual({ name: 'Snow' })
    expect(await need(got(0))).toBe(0)
    expect(await need(got([]))).toEqual([])
  })

  test('or the sentence that the service says, with its status', async () => {
    const refused = need(got(undefined, { error: 'there is no ink 9', place: 'stack[0]' }, 404))
    await expect(refused).rejects.toMatchObject({ message: 'there is no ink 9', status: 404 })
    await expect(need(got(undefined, undefined, 500))).rejects.toThrow('Wempa refused (500).')
  })

  test('or that nobody answers', async () => {
    await expect(need(Promise.reject(new TypeError('failed')))).rejects.toMatchObject({ status: 0, message: /Is it still running/ })
  })

  test('and may be null only where that is an answer', async () => {
    expect(await needOrNull(got(null))).toBeNull()
    expect(await needOrNull(got({ id: 1 }))).toEqual({ id: 1 })
    await expect(need(got(null))).rejects.toBeInstanceOf(Refused)
    await expect(needOrNull(got(null, { error: 'no' }, 422))).rejects.toThrow('no')
  })
})

describe('a file that is sent', () => {
  test('goes as bytes, and what comes of it comes back', async () => {
    const asked = answers(json({ rows: [1] }, 201))
    expect(await sendFile('/api/inks/import', 'name;hex')).toEqual({ rows: [1] })
    expect(asked[0]?.[0]).toBe('/api/inks/import')
    expect(asked[0]?.[1]).toMatchObject({ method: 'POST', body: 'name;hex', headers: { 'content-type': 'application/octet-stream' } })
  })

  test('is refused in a sentence', async () => {
    answers(json({ error: 'row 3 has no name' }, 422))
    await expect(sendFile('/x', '')).rejects.toMatchObject({ message: 'row 3 has no name', status: 422 })
    answers(new Response('<html>', { status: 502 }))
    await expect(sendFile('/x', '')).rejects.toThrow('Wempa refused (502).')
    answers(new TypeError('gone'))
    await expect(sendFile('/x', '')).rejects.toThrow('Is it still running')
  })
})

describe('bytes behind a head', () => {
  test('are parted from it', async () => {
    const head = new TextEncoder().encode('{"rows":2}  ')
    const whole = new Uint8Array(4 + head.length + 3)
    new DataView(whole.buffer).setUint32(0, head.length, true)
    whole.set(head, 4)
    whole.set([7, 8, 9], 4 + head.length)
    const asked = answers(new Response(whole))
    const { head: read, bytes } = await framed<{ rows: number }>('/api/panels/picture', { name: 'Bare' })
    expect(read).toEqual({ rows: 2 })
    expect([...bytes]).toEqual([7, 8, 9])
    expect(asked[0]?.[1]?.body).toBe('{"name":"Bare"}')
  })
})

describe('lines that come one by one', () => {
  const parts = (...texts: string[]) =>
    new Response(
      new ReadableStream({
        start(controller) {
          for (const text of texts) controller.enqueue(new TextEncoder().encode(text))
          controller.close()
        },
      }),
    )
  const all = async (path: string) => {
    const found: unknown[] = []
    for await (const line of linesOf(path, {})) found.push(line)
    return found
  }

  test('are read whole, however they are cut up on the way', async () => {
    answers(parts('{"done":0.1}\n{"do', 'ne":0.5}\n', '\n{"name":"Caf', 'é"}\n'))
    expect(await all('/x')).toEqual([{ done: 0.1 }, { done: 0.5 }, { name: 'Café' }])
  })

  test('may be refused before the first', async () => {
    answers(json({ error: 'another search has the table' }, 409))
    await expect(all('/x')).rejects.toMatchObject({ message: 'another search has the table', status: 409 })
  })

  test('end when somebody hangs up, which is no refusal', async () => {
    const hung = new AbortController()
    hung.abort()
    const stopped = new DOMException('stopped', 'AbortError')
    answers(stopped as unknown as Error)
    const line = linesOf('/x', { signal: hung.signal }).next()
    await expect(line).rejects.toBe(stopped)
  })
})

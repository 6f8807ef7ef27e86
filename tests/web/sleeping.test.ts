import type { Run, TableStep } from '../../web/src/shared/api'
import runs from '../golden/running.json'

import { asleep, ticked, useSleeping } from '../../web/src/rooms/table/useSleeping'
import { api, Refused } from '../../web/src/shared/api'

const step = (act: number, start: number, minutes: number) =>
  ({ n: act, bout: 1, act, do: 'lay', of: 'Panel', label: 'Lay', text: `Step ${act}`, start, minutes, hands: true, after: [], waits: [] }) as unknown as TableStep
const run = { id: 7, began: 1000, total: 6, done: [], timers: [], due: [step(1, 0, 2), step(2, 2, 3), step(3, 5, 1)] } as unknown as Run
const tick = (act: number, minute: number) => ({ run: 7, bout: 1, act, do: 'lay' as TableStep['do'], at: 1000 + 60 * minute })

describe('a step that is ticked off while the laptop sleeps', () => {
  test('is done, what follows begins at once, and the run before it is left alone', () => {
    const after = ticked(run, tick(1, 1.5))
    expect(after.done).toEqual([{ of: 'Panel', label: 'Lay', text: 'Step 1', ended: 1.5 }])
    expect(after.due.map((due) => due.start)).toEqual([1.5, 4.5])
    expect(after.total).toBe(5.5)
    expect(run.done).toEqual([])
  })

  test.each(Object.entries(runs))('moves %s on as the service does', (_, kept) => {
    let now = kept.run as unknown as Run
    for (const told of kept.ticks) {
      now = ticked(now, { run: now.id, bout: told.bout, act: told.act, do: told.do as TableStep['do'], at: told.at })
      expect(now.due.map((due) => [due.bout, due.act, due.do])).toEqual(told.after.due.map((row) => row.slice(0, 3)))
      // The service counts in sixteenths of a minute.
      now.due.forEach((due, i) => expect(Math.abs(due.start - Number(told.after.due[i]?.[3]))).toBeLessThan(0.13))
      expect(now.timers.map((timer) => [timer.bout, timer.drying])).toEqual(told.after.timers.map((row) => row.slice(0, 2)))
      now.timers.forEach((timer, i) => expect(Math.abs(timer.ends - Number(told.after.timers[i]?.[2]))).toBeLessThan(0.13))
      expect(Math.abs(now.total - told.after.total)).toBeLessThan(0.13)
    }
  })

  test('changes nothing where it is not due', () => {
    expect(ticked(run, tick(9, 1))).toBe(run)
  })

  test('only silence is sleep', () => {
    expect(asleep(new Refused('nobody', 0))).toBe(true)
    expect(asleep(new Refused('no', 422))).toBe(false)
    expect(asleep(new Error('x'))).toBe(false)
  })
})

describe('what was ticked off meanwhile', () => {
  type Answer = { data: unknown; response: Response }
  const answer = (data: unknown, status = 200): Answer => ({ data, response: new Response(null, { status }) })
  const told: { act: number; later: boolean; revision: string }[] = []
  const waiting: ((answer: Answer) => void)[] = []
  const one = (act: number) => ({ run: 7, bout: 0, act, do: 'lay' as const, at: 1000 + act })

  beforeEach(() => {
    told.length = waiting.length = 0
    vi.spyOn(api, 'GET').mockImplementation((() => Promise.resolve(answer({ id: 7, revision: 1 }))) as never)
    vi.spyOn(api, 'POST').mockImplementation(((_: string, asked: { params: { header: { 'if-match': string } }; body: { act: number; later: boolean } }) => {
      told.push({ act: asked.body.act, later: asked.body.later, revision: asked.params.header['if-match'] })
      return new Promise<Answer>((done) => waiting.push(done))
    }) as never)
  })
  afterEach(() => vi.restoreAllMocks())
  const until = (count: number) => vi.waitFor(() => expect(waiting.length).toBe(count))

  it('is told in its order, with what is ticked off while it is being told', async () => {
    const seen: unknown[] = []
    const { hold, letGo, tell, count, away } = useSleeping((run) => seen.push(run), () => expect.unreachable())
    hold(one(1))
    hold(one(2))
    const telling = tell()
    await until(1)
    hold(one(3))
    // What is on its way already cannot be taken back here, nor is it told twice.
    expect(letGo()).toBe(false)
    await tell()
    expect(told.map((each) => each.act)).toEqual([1])
    waiting[0]?.(answer({ id: 7, revision: 2 }))
    await until(2)
    waiting[1]?.(answer({ id: 7, revision: 3 }))
    await until(3)
    expect([away.value, count.value]).toEqual([true, 1])
    waiting[2]?.(answer({ id: 7, revision: 4 }))
    await telling
    expect(told).toEqual([
      { act: 1, later: true, revision: '1' },
      { act: 2, later: true, revision: '2' },
      { act: 3, later: false, revision: '3' },
    ])
    expect(seen).toEqual([{ id: 7, revision: 4 }])
    expect([away.value, count.value]).toEqual([false, 0])
  })

  it('is kept while nobody answers, and told as lost where the evening is another one by then', async () => {
    const lost: string[] = []
    const { hold, tell, count } = useSleeping(() => undefined, (text) => lost.push(text))
    hold(one(1))
    vi.mocked(api.GET).mockRejectedValueOnce(new TypeError('asleep'))
    await tell()
    expect([count.value, lost]).toEqual([1, []])
    vi.mocked(api.GET).mockResolvedValueOnce(answer({ id: 8, revision: 1 }) as never)
    await tell()
    expect(count.value).toBe(0)
    expect(lost).toEqual([expect.stringContaining('one step that you ticked off meanwhile could not be told')])
  })
})

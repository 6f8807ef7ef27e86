import type { Run, TableStep } from '../../web/src/shared/api'
import { asleep, ticked } from '../../web/src/rooms/table/useSleeping'
import { Refused } from '../../web/src/shared/api'

const step = (act: number, start: number, minutes: number, hands = true) =>
  ({ bout: 1, act, do: 'lay', of: 'Panel', label: 'Lay', text: `Step ${act}`, start, minutes, hands }) as unknown as TableStep
const run = { id: 7, began: 1000, total: 12, done: [], due: [step(1, 0, 2), step(2, 2, 3), step(3, 9, 1)] } as unknown as Run
const tick = (act: number, minute: number) => ({ run: 7, bout: 1, act, do: 'lay' as TableStep['do'], at: 1000 + 60 * minute })

describe('a step that is ticked off while the laptop sleeps', () => {
  test('is done, and what follows at once begins sooner, but not what waits for something to dry', () => {
    const after = ticked(run, tick(1, 1.5))
    expect(after.done).toEqual([{ of: 'Panel', label: 'Lay', text: 'Step 1', ended: 1.5 }])
    expect(after.due.map((each) => each.start)).toEqual([1.5, 9])
    expect(ticked(after, tick(2, 3)).due.map((each) => each.start)).toEqual([9])
    expect(after.total).toBe(12)
    expect(run.done).toEqual([])
  })

  test('moves the rest by as much as it was late', () => {
    const after = ticked(ticked(run, tick(1, 6)), tick(2, 9.5))
    expect(after.due.map((each) => each.start)).toEqual([13.5])
    expect(after.total).toBe(16.5)
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

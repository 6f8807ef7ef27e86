import { useQueue } from '../../web/src/shared/queue'

const later = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms))

describe('work in a queue', () => {
  test('is done in the order it was asked for, one at a time', async () => {
    const done: string[] = []
    let now = 0
    const inTurn = useQueue(async (work) => {
      await work()
      return true
    })
    const task = (name: string, ms: number) => async () => {
      expect(++now).toBe(1)
      await later(ms)
      done.push(name)
      now--
    }
    await Promise.all([inTurn(task('slow', 20)), inTurn(task('quick', 1)), inTurn(task('last', 0))])
    expect(done).toEqual(['slow', 'quick', 'last'])
  })

  test('goes on after one that was refused, and says which', async () => {
    const inTurn = useQueue((work) =>
      work().then(
        () => true,
        () => false,
      ),
    )
    const answers = await Promise.all([inTurn(async () => {}), inTurn(() => Promise.reject(new Error('no'))), inTurn(async () => {})])
    expect(answers).toEqual([true, false, true])
  })
})

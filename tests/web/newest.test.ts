import { useNewest } from '../../web/src/shared/newest'

/** Askings that are answered when the test says so. */
function held() {
  const answers: { of: string; say: (text: string) => void; refuse: (why: string) => void }[] = []
  const ask = (of: string): Promise<string> => new Promise((say, no) => answers.push({ of, say, refuse: (why) => no(new Error(why)) }))
  return { answers, ask }
}

test('what comes back late is not shown, and whoever asked for it waits for the newest', async () => {
  const { answers, ask } = held()
  const shown: string[] = []
  const fetch = useNewest(ask, (found, [of]) => shown.push(`${of}: ${found}`))
  let firstIsDone = false
  const first = fetch('a').then(() => (firstIsDone = true))
  const second = fetch('b')
  answers[0]?.say('old')
  await new Promise((next) => setTimeout(next))
  expect([shown, firstIsDone]).toEqual([[], false])
  answers[1]?.say('new')
  await Promise.all([first, second])
  expect(shown).toEqual(['b: new'])
})

test('an answer that comes back early is not overwritten by an older one', async () => {
  const { answers, ask } = held()
  const shown: string[] = []
  const fetch = useNewest(ask, (found) => shown.push(found))
  const both = [fetch('a'), fetch('b')]
  answers[1]?.say('new')
  answers[0]?.say('old')
  await Promise.all(both)
  expect(shown).toEqual(['new'])
})

test('a refusal counts only where it is of the newest', async () => {
  const { answers, ask } = held()
  const shown: string[] = []
  const fetch = useNewest(ask, (found) => shown.push(found))
  const both = [fetch('a'), fetch('b')]
  answers[0]?.refuse('too late')
  answers[1]?.say('new')
  await Promise.all(both)
  const third = fetch('c')
  answers[2]?.refuse('no such book')
  await expect(third).rejects.toThrow('no such book')
  expect(shown).toEqual(['new'])
})

test('one after another is each shown', async () => {
  const shown: number[] = []
  const fetch = useNewest((each: number) => Promise.resolve(each), (found) => shown.push(found))
  await fetch(1)
  await fetch(2)
  expect(shown).toEqual([1, 2])
})

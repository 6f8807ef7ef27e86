import type { Entry, StashInk } from '../../web/src/shared/api'
import { entryNames, inkNames, joined, twinNames, ordinal } from '../../web/src/shared/names'

const ink = (id: number, name: string, formula: StashInk['formula']): StashInk => ({ id, name, formula }) as StashInk
const shelf = [ink(1, 'Sea Wall', 'hybrid'), ink(2, 'Sea Wall', 'dye'), ink(3, 'Tea Urn', 'dye'), ink(4, 'Ember', 'dye'), ink(5, 'Ember', 'dye')]

describe('names of inks', () => {
  test('are told with the formula where two formulas go by one name', () => {
    expect([...twinNames(shelf)]).toEqual(['Sea Wall'])
    const name = inkNames(shelf)
    expect(name(1)).toBe('Sea Wall (hybrid)')
    expect(name(2)).toBe('Sea Wall (dye)')
    expect(name(3)).toBe('Tea Urn')
    expect(name(4)).toBe('Ember')
  })

  test('say when an ink is gone', () => {
    expect(inkNames(shelf)(99)).toBe('an ink no longer here')
  })
})

test('entries of a stack are called by ink, mix or treatment', () => {
  const stack = [{ ink_id: 3 }, { mix: [{ ink_id: 1, share: 1 }, { ink_id: 4, share: 2 }] }, { treatment: 'heat' }, {}] as Entry[]
  expect(entryNames(stack, shelf)).toEqual(['Tea Urn', 'Sea Wall (hybrid) + Ember', expect.stringMatching(/heat/i), 'an ink no longer here'])
})

test('several names are joined as one says them', () => {
  expect(joined([])).toBe('')
  expect(joined(['a'])).toBe('a')
  expect(joined(['a', 'b'])).toBe('a and b')
  expect(joined(['a', 'b', 'c'])).toBe('a, b and c')
})

test('when something comes is said as one says it', () => {
  expect([0, 1, 2, 3, 10, 11, 12, 20, 21, 22, 23].map(ordinal)).toEqual(['1st', '2nd', '3rd', '4th', '11th', '12th', '13th', '21st', '22nd', '23rd', '24th'])
})

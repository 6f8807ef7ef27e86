import { choices } from '../../web/src/shared/choices'
import { fileName } from '../../web/src/shared/files'

test('a file is called as its answer says', () => {
  expect(fileName('attachment; filename="wempa-on-the-table.json"')).toBe('wempa-on-the-table.json')
  expect(fileName('attachment')).toBe('wempa')
  expect(fileName(null)).toBe('wempa')
})

test('words become choices in their order', () => {
  expect(choices(['b', 'a'] as const, { a: 'first', b: 'second' })).toEqual([
    { value: 'b', label: 'second' },
    { value: 'a', label: 'first' },
  ])
})

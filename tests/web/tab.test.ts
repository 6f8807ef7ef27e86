import { tabName } from '../../web/src/shared/tab'

const storage = () => {
  const kept = new Map<string, string>()
  return { getItem: (key: string) => kept.get(key) ?? null, setItem: (key: string, value: string) => void kept.set(key, value) }
}

describe('the name of a tab', () => {
  test('is the same after a reload and another in another tab', () => {
    const one = storage()
    const name = tabName(() => one)
    expect(name).toMatch(/^[0-9a-f]{24}$/)
    expect(tabName(() => one)).toBe(name)
    expect(tabName(() => storage())).not.toBe(name)
  })

  test('is made all the same where the browser keeps nothing', () => {
    const refused = () => {
      throw new DOMException('denied', 'SecurityError')
    }
    expect(tabName(refused)).toMatch(/^[0-9a-f]{24}$/)
    const full = { getItem: () => null, setItem: refused }
    expect(tabName(() => full)).toMatch(/^[0-9a-f]{24}$/)
  })
})

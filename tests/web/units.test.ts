import said from '../data/inches.json'

import { inches, length, number, toMm } from '../../web/src/shared/units'

describe('a length as typed', () => {
  test.each([
    ['108', 'mm', 108],
    ['108', 'in', 2743.2],
    ['4 1/4 in', 'mm', 107.95],
    ['4 1/4"', 'mm', 107.95],
    ['4 1/4', 'in', 107.95],
    ['1/2', 'in', 12.7],
    ['4.25 inches', 'mm', 107.95],
    ['1 inch', 'mm', 25.4],
    ['10,8 cm', 'in', 108],
    ['  90 MM ', 'in', 90],
  ] as const)('%s, in %s where none is said, is %d mm', (text, unit, mm) => {
    expect(toMm(text, unit)).toBeCloseTo(mm, 9)
  })

  test.each(['', 'in', 'wide', '4 1/0 in', '4/', '-3', '3 miles', '4 1/4 1/4'])('%s is none', (text) => {
    expect(toMm(text, 'mm')).toBeNull()
  })
})

describe('inches', () => {
  test.each(said as [number, string][])('%d mm are %s', (mm, said) => {
    expect(inches(mm)).toBe(said)
  })
})

describe('a length as shown', () => {
  test('has a tenth of a millimetre', () => {
    expect(number(107.96, 'mm')).toBe('108')
    expect(number(107.94, 'mm')).toBe('107.9')
  })
  test('has sixteenths of an inch where it is one, else two decimals', () => {
    expect(number(107.95, 'in')).toBe('4 1/4')
    expect(number(13.2, 'in')).toBe('0.52')
  })
  test('has its unit', () => {
    expect(length(107.95, 'in')).toBe('4 1/4 in')
    expect(length(90, 'mm')).toBe('90 mm')
  })
  test('reads back to what it was, as far as it is shown', () => {
    for (let mm = 0; mm < 300; mm += 1.5875) expect(toMm(length(mm, 'in'), 'mm')).toBeCloseTo(mm, 6)
  })
})

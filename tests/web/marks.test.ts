import { verdictKindWords } from '../../web/src/generated/words'
import { drawMark, inkOn } from '../../web/src/rooms/search/marks'

/** Relative luminance of WCAG 2.2. */
const luminance = (rgb: readonly number[]): number => {
  const [r = 0, g = 0, b = 0] = rgb.map((part) => (part / 255 <= 0.04045 ? part / 255 / 12.92 : ((part / 255 + 0.055) / 1.055) ** 2.4))
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}
const contrast = (one: readonly number[], other: readonly number[]): number => {
  const [dark = 0, light = 0] = [luminance(one), luminance(other)].sort((a, b) => a - b)
  return (light + 0.05) / (dark + 0.05)
}
const parts = (hex: string): number[] => [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16))

test('a mark stands out on any colour, at least three to one', () => {
  for (let r = 0; r <= 255; r += 51)
    for (let g = 0; g <= 255; g += 51)
      for (let b = 0; b <= 255; b += 51) expect(contrast([r, g, b], parts(inkOn(r, g, b))), `${r},${g},${b}`).toBeGreaterThanOrEqual(3)
})

function strokes(kind: (typeof verdictKindWords)[number], mud: number): string[] {
  const said: string[] = []
  const pen = new Proxy({} as Record<string, unknown>, {
    get: (_, name: string) => (...given: number[]) => said.push(`${name} ${given.map((each) => each.toFixed(1)).join(' ')}`),
    set: () => true,
  })
  drawMark(pen as unknown as CanvasRenderingContext2D, kind, mud, 0, 0, 20, '#000000')
  return said
}

test('each verdict has a shape of its own, and clean has none', () => {
  const shapes = verdictKindWords.map((kind) => strokes(kind, 60).join(';'))
  expect(new Set(shapes).size).toBe(verdictKindWords.length)
  expect(strokes('clean', 0)).toEqual([])
})

test('the sediment rises with the mud, between a third and nearly full', () => {
  const level = (mud: number) => Number(strokes('muddy', mud).find((each) => each.startsWith('lineTo'))?.split(' ')[2])
  expect(level(90)).toBeLessThan(level(60))
  expect(level(60)).toBeLessThan(level(40))
  expect(level(0)).toBeCloseTo(13)
  expect(level(100)).toBeGreaterThanOrEqual(3)
})

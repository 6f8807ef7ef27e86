/** Colours as people type them. */
import type { GivenColour } from './api'

const HEX = /^#?([0-9a-f]{3}|[0-9a-f]{6})$/i
const NUMBER = /^[-−+]?(\d+\.?\d*|\.\d+)$/

/**
 * A colour as typed; null if it is none.
 *
 * Taken are `#2a5ca8`, `2a5ca8` and `#2ac`; L*, a*, b* (D50) with spaces, commas or semicolons between, with
 * decimal points, or with decimal commas where something else stands between; with `L`, `a`, `b` before them or not.
 *
 * @example readColour('55, 20, -30') // { lab: [55, 20, -30], illuminant: 'D50' }
 * @example readColour('55,2; 20,1; -30') // { lab: [55.2, 20.1, -30], illuminant: 'D50' }
 */
export function readColour(text: string): GivenColour | null {
  const word = text.trim()
  const hex = HEX.exec(word)?.[1]
  if (hex) return { hex: `#${hex.length === 3 ? [...hex].map((digit) => digit + digit).join('') : hex}` }
  const plain = word
    .replace(/^lab\b|[()]/gi, ' ')
    .replace(/\b[Lab]\*?\s*[:=]?\s*(?=[-−+\d.])/g, ' ')
    .trim()
  for (const parts of [
    plain.split(/[\s;]+|,\s+|\s*,\s*/),
    plain.split(/[\s;]+/).map((part) => part.replace(/,$/, '').replace(',', '.')),
  ]) {
    const said = parts.filter((part) => part !== '')
    if (said.length === 3 && said.every((part) => NUMBER.test(part)))
      return { lab: said.map((part) => Number(part.replace('−', '-'))), illuminant: 'D50' }
  }
  return null
}

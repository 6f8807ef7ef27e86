import type { GivenColour } from './api'

/** A colour as typed: `#2a5ca8`, or L*, a*, b* (D50) with decimal points or commas; null if it is neither. */
export function readColour(text: string): GivenColour | null {
  const word = text.trim()
  if (/^#?[0-9a-f]{6}$/i.test(word)) return { hex: word.startsWith('#') ? word : `#${word}` }
  const parts = word.includes('.') ? word.split(/[\s,;]+/) : word.replace(/,(?=\d)/g, '.').split(/[\s;]+/)
  const numbers = parts.map(Number)
  return numbers.length === 3 && numbers.every(Number.isFinite) ? { lab: numbers, illuminant: 'D50' } : null
}

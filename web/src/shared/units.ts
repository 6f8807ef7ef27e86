/** Lengths as people write them: millimetres, and inches with fractions. */
import { INCH_MM, INCH_PARTS } from '../generated/words'

export type Unit = 'mm' | 'in'

/** Millimetres of a length as typed, such as `108`, `4 1/4 in` or `10.8 cm`; null if it is none. */
export function toMm(text: string, unit: Unit): number | null {
  const found = /^\s*(?:(\d+(?:[.,]\d+)?)(?![\d/]))?\s*(?:(\d+)\s*\/\s*(\d+))?\s*(mm|cm|in|inch|inches|")?\s*$/i.exec(
    text,
  )
  if (!found || (found[1] === undefined && found[2] === undefined)) return null
  const part = found[2] === undefined ? 0 : Number(found[2]) / Number(found[3])
  const value = Number((found[1] ?? '0').replace(',', '.')) + part
  if (!Number.isFinite(value)) return null
  const said = (found[4] ?? unit).toLowerCase()
  return said === 'mm' ? value : said === 'cm' ? 10 * value : INCH_MM * value
}

/** A number of inches with a fraction as a ruler has them; the service says them so in prints. */
export function inches(mm: number): string {
  const parts = Math.round((mm / INCH_MM) * INCH_PARTS)
  const whole = Math.floor(parts / INCH_PARTS)
  let [top, bottom]: [number, number] = [parts % INCH_PARTS, INCH_PARTS]
  while (top && top % 2 === 0) [top, bottom] = [top / 2, bottom / 2]
  if (!top) return String(whole)
  return whole ? `${whole} ${top}/${bottom}` : `${top}/${bottom}`
}

/** A length in a unit, without it. Inches that are no sixteenths have two decimals. */
export function number(mm: number, unit: Unit): string {
  if (unit === 'mm') return String(Math.round(mm * 10) / 10)
  const near = Math.round((mm / INCH_MM) * INCH_PARTS) / INCH_PARTS
  return Math.abs(near - mm / INCH_MM) < 0.004 ? inches(mm) : (mm / INCH_MM).toFixed(2)
}

/** A length with its unit. */
export const length = (mm: number, unit: Unit): string => `${number(mm, unit)} ${unit}`

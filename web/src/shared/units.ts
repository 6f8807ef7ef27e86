/** Lengths as people write them: millimetres, and inches with fractions. */
export type Unit = 'mm' | 'in'

const INCH = 25.4

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
  return said === 'mm' ? value : said === 'cm' ? 10 * value : INCH * value
}

/** A number of inches with a fraction to the nearest sixteenth. */
export function inches(mm: number): string {
  const sixteenths = Math.round((mm / INCH) * 16)
  const whole = Math.floor(sixteenths / 16)
  let [top, bottom] = [sixteenths % 16, 16]
  while (top && top % 2 === 0) [top, bottom] = [top / 2, bottom / 2]
  if (!top) return String(whole)
  return whole ? `${whole} ${top}/${bottom}` : `${top}/${bottom}`
}

/** A length in a unit, without it. Inches that are no sixteenths have two decimals. */
export function number(mm: number, unit: Unit): string {
  if (unit === 'mm') return String(Math.round(mm * 10) / 10)
  const near = Math.round((mm / INCH) * 16) / 16
  return Math.abs(near - mm / INCH) < 0.004 ? inches(mm) : (mm / INCH).toFixed(2)
}

/** A length with its unit. */
export const length = (mm: number, unit: Unit): string => `${number(mm, unit)} ${unit}`

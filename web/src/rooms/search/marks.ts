/** The verdict's marks on a small swatch: shapes, so that they are read without hue and in print. */
import type { VerdictKind } from '../../generated/words'

const [DARK, LIGHT] = ['#111111', '#f6f6f6']

/** Relative luminance of a byte's share of light (WCAG 2.2). */
const linear = Array.from({ length: 256 }, (_, byte) =>
  byte / 255 <= 0.04045 ? byte / 255 / 12.92 : ((byte / 255 + 0.055) / 1.055) ** 2.4,
)

/** Near black or near white, whichever has the greater contrast on a colour (WCAG 2.2). */
export function inkOn(r: number, g: number, b: number): string {
  const luminance = 0.2126 * (linear[r] ?? 0) + 0.7152 * (linear[g] ?? 0) + 0.0722 * (linear[b] ?? 0)
  // Where both stand out alike: the root of (0.0056 + 0.05) (0.9216 + 0.05), less 0.05.
  return luminance > 0.1824 ? DARK : LIGHT
}

/** Draw a verdict's mark in a box: a glass of sediment, a bar, a ring, two bars; nothing for clean. */
export function drawMark(
  ctx: CanvasRenderingContext2D,
  kind: VerdictKind,
  mud: number,
  x: number,
  y: number,
  size: number,
  colour: string,
): void {
  if (kind === 'clean') return
  ctx.strokeStyle = colour
  ctx.fillStyle = colour
  ctx.lineWidth = Math.max(1, size / 8)
  ctx.beginPath()
  if (kind === 'muddy') {
    const wall = (h: number): [number, number] => [
      x + size * (0.14 + 0.12 * (1 - h)),
      x + size * (0.86 - 0.12 * (1 - h)),
    ]
    const full = Math.min(0.85, Math.max(0.35, mud / 110))
    const [l0, r0] = wall(0)
    const [l1, r1] = wall(full)
    const [l2, r2] = wall(1)
    ctx.moveTo(l0, y + size)
    ctx.lineTo(l1, y + size * (1 - full))
    ctx.lineTo(r1, y + size * (1 - full))
    ctx.lineTo(r0, y + size)
    ctx.fill()
    ctx.beginPath()
    ctx.moveTo(l2, y)
    ctx.lineTo(l0, y + size)
    ctx.lineTo(r0, y + size)
    ctx.lineTo(r2, y)
  } else if (kind === 'muted') {
    ctx.moveTo(x + size * 0.12, y + size / 2)
    ctx.lineTo(x + size * 0.88, y + size / 2)
  } else if (kind === 'swamped') {
    ctx.arc(x + size / 2, y + size / 2, size * 0.36, 0, 7)
  } else {
    for (const level of [0.32, 0.68]) {
      ctx.moveTo(x + size * 0.12, y + size * level)
      ctx.lineTo(x + size * 0.88, y + size * level)
    }
  }
  ctx.stroke()
}

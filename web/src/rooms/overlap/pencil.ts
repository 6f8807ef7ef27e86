import type { Crossing, Look } from '@/shared/api'

/** Pencil on a card: dark on a light one, light on a dark one. */
export const pencilOn = (crossing: Crossing): string =>
  (crossing.bare.colour.lab[0] ?? 100) > 55 ? '#1d1d1d' : '#f4f4f4'

/** Where drops of water fall: fixed and uneven, none beyond the edge of the box. */
export const dropsIn = (count: number, box: { x: number; y: number; w: number; h: number }, most = 14) =>
  Array.from({ length: count }, (_, n) => {
    const r = 4 + ((n * 37) % (most - 3))
    const along = (start: number, length: number, share: number): number => start + r + 4 + share * (length - 2 * r - 8)
    return { r, x: along(box.x, box.w, ((n * 89) % 97) / 97), y: along(box.y, box.h, ((n * 53) % 89) / 89) }
  })

/** Patches that lie side by side in a box, each over its share of it: dabs in fixed, uneven order. */
export function dabsIn(patches: Look['patches'], box: { x: number; y: number; w: number; h: number }, size = 19) {
  if (!patches.length) return []
  const across = Math.max(1, Math.round(box.w / size))
  const down = Math.max(1, Math.round(box.h / size))
  const [w, h] = [box.w / across, box.h / down]
  return Array.from({ length: across * down }, (_, n) => {
    // Uneven, and the same each time.
    let left = Math.abs(Math.sin(12.9898 * (n + 1)) * 43758.5453) % 1
    const patch = patches.find((each) => (left -= each.share) < 0) ?? patches[0]
    return {
      x: box.x + (n % across) * w,
      y: box.y + Math.floor(n / across) * h,
      width: w + 0.4,
      height: h + 0.4,
      rx: 7,
      fill: patch?.colour.hex,
    }
  })
}

import type { Crossing } from '@/shared/api'

/** Pencil on a card: dark on a light one, light on a dark one. */
export const pencilOn = (crossing: Crossing): string => ((crossing.bare.colour.lab[0] ?? 100) > 55 ? '#1d1d1d' : '#f4f4f4')

/** Where drops of water fall: fixed and uneven, none beyond the edge of the box. */
export const dropsIn = (count: number, box: { x: number; y: number; w: number; h: number }, most = 14) =>
  Array.from({ length: count }, (_, n) => {
    const r = 4 + ((n * 37) % (most - 3))
    const along = (start: number, length: number, share: number): number => start + r + 4 + share * (length - 2 * r - 8)
    return { r, x: along(box.x, box.w, ((n * 89) % 97) / 97), y: along(box.y, box.h, ((n * 53) % 89) / 89) }
  })

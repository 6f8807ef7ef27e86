/** Where on a front something lies, to put marks beside it and to know what is pressed. The picture itself is the service's. */
import { LAYOUTS } from '../../generated/words'
import type { PanelItem, PanelStudy } from '@/shared/api'

export interface Spot {
  x: number
  y: number
}

/** How bands lie on a front. */
export type Lying = Pick<PanelItem, 'layout' | 'angle' | 'centre'>

const rad = (degrees: number): number => (degrees * Math.PI) / 180
/** What is so of the way the bands of a plan lie. */
export const layoutOf = (plan: Lying): (typeof LAYOUTS)[keyof typeof LAYOUTS] => LAYOUTS[plan.layout ?? 'straight']
/** Whether the bands of a plan lie side by side across the front. */
export const isFlat = (plan: Lying): boolean => layoutOf(plan).flat

/** Place on the line across the bands, mm, of a spot in mm from the top left of the inked area. */
export function lineAt(plan: Lying, study: PanelStudy, spot: Spot): number {
  const [width = 1, height = 1] = study.inked
  const { line } = layoutOf(plan)
  if (line === 'inwards') return Math.min(spot.x, width - spot.x, spot.y, height - spot.y)
  if (line === 'across') {
    const turned = rad(plan.angle ?? 0)
    return (spot.x - width / 2) * Math.cos(turned) + (spot.y - height / 2) * Math.sin(turned) + study.length / 2
  }
  const [cx = 0.5, cy = 0.5] = plan.centre ?? []
  const [dx, dy] = [spot.x - cx * width, spot.y - cy * height]
  if (line === 'outwards') return Math.hypot(dx, dy)
  const turn = ((((Math.atan2(dy, dx) * 180) / Math.PI - (plan.angle ?? 0)) % 360) + 360) % 360
  return (turn / 360) * study.length
}

/** A spot to put a mark for a place on the line: beside the front where bands lie side by side, else on it. */
export function markAt(plan: Lying, study: PanelStudy, at: number, off: number, side: 1 | -1 = 1): Spot {
  const [width = 1, height = 1] = study.inked
  const { line } = layoutOf(plan)
  if (line === 'across') {
    const turned = rad(plan.angle ?? 0)
    const along = at - study.length / 2
    const [x, y] = [width / 2 + along * Math.cos(turned), height / 2 + along * Math.sin(turned)]
    // Along the band, to just beyond the front's edge.
    const [ux, uy] = [side * Math.sin(turned), -side * Math.cos(turned)]
    const ends = [
      ux > 1e-6 ? (width - x) / ux : ux < -1e-6 ? -x / ux : Infinity,
      uy > 1e-6 ? (height - y) / uy : uy < -1e-6 ? -y / uy : Infinity,
    ]
    const far = Math.max(0, Math.min(...ends)) + off
    return {
      x: Math.min(width + off, Math.max(-off, x + far * ux)),
      y: Math.min(height + off, Math.max(-off, y + far * uy)),
    }
  }
  if (line === 'inwards') return { x: at, y: height / 2 }
  const [cx = 0.5, cy = 0.5] = plan.centre ?? []
  const [x, y] = [cx * width, cy * height]
  if (line === 'outwards') {
    const [fx, fy] = [(cx < 0.5 ? width : 0) - x, (cy < 0.5 ? height : 0) - y]
    const far = Math.hypot(fx, fy) || 1
    return { x: x + (fx / far) * at, y: y + (fy / far) * at }
  }
  const turn = rad((at / study.length) * 360 + (plan.angle ?? 0))
  const reach = 0.36 * Math.min(width, height)
  return { x: x + reach * Math.cos(turn), y: y + reach * Math.sin(turn) }
}

/** What lies at a place on the line: a band or a seam. */
export function zoneAt(study: PanelStudy, at: number): { kind: 'band' | 'seam'; at: number } | null {
  const seam = study.seams.findIndex(
    (each) => (at > each.begin && at < each.end) || (each.end > study.length && at < each.end - study.length),
  )
  if (seam >= 0) return { kind: 'seam', at: seam }
  const band = study.bands.findIndex((each) => at >= each.begin - 1e-6 && at <= each.end + 1e-6)
  return band >= 0 ? { kind: 'band', at: band } : null
}

/** A leaf, until another shape is given. */
export const LEAF = 'M0 0C10 -9 22 -9 32 0C22 9 10 9 0 0Z'

/** How a front looks as an outline, for choosing a layout: lines in a box of 20 by 26. */
export const layoutGlyphs: Record<string, string> = {
  straight: 'M0 7q10 2 20 0M0 13q10 2 20 0M0 19q10 2 20 0',
  stripes: 'M0 5h20M0 9h20M0 14h20M0 18h20',
  rings: 'M13 13a3 3 0 1 0 -6 0a3 3 0 1 0 6 0M17 13a7 7 0 1 0 -14 0a7 7 0 1 0 14 0',
  fan: 'M10 13L0 4M10 13L20 4M10 13L0 22M10 13L20 22',
  edge: 'M4 5h12v16H4zM8 9h4v8H8z',
  ribbons: 'M0 8l5 -1 4 2 6 -2 5 1M0 14l5 -1 4 2 6 -2 5 1M0 20l5 -1 4 2 6 -2 5 1',
  roller: 'M4 0v26M8 0v26M12 0v26M16 0v26',
}

import said from '../data/front-places.json'
import { type Lying, isFlat, lineAt, markAt, zoneAt } from '../../web/src/rooms/panels/geometry'
import type { PanelStudy } from '../../web/src/shared/api'

interface Case {
  layout: NonNullable<Lying['layout']>
  inked: [number, number]
  length: number
  angle: number
  centre: [number, number]
  spots: { x: number; y: number; at: number }[]
}

const cases = said as Case[]

const planOf = (of: Case): Lying => ({ layout: of.layout, angle: of.angle, centre: of.centre })
const studyOf = (of: Case, more: Partial<PanelStudy> = {}): PanelStudy => ({ inked: of.inked, length: of.length, bands: [], seams: [], ...more }) as PanelStudy

describe('a spot of a front', () => {
  test.each(cases.map((each) => [`${each.layout} at ${each.angle}°`, each] as const))('%s lies where the service says', (_, each) => {
    for (const spot of each.spots) expect(lineAt(planOf(each), studyOf(each), spot)).toBeCloseTo(spot.at, 3)
  })

  test('every layout is among the cases', () => {
    expect(new Set(cases.map((each) => each.layout)).size).toBe(7)
  })
})

describe('a mark for a place', () => {
  test.each(cases.filter((each) => !isFlat(planOf(each)) && each.layout !== 'fan').map((each) => [each.layout, each] as const))(
    'lies at that place on %s',
    (_, each) => {
      const mark = markAt(planOf(each), studyOf(each), 12, 9)
      expect(lineAt(planOf(each), studyOf(each), mark)).toBeCloseTo(12, 6)
    },
  )

  test('lies beside bands that are flat, on the side that was asked for', () => {
    const upright = cases.find((each) => each.layout === 'straight' && each.angle === 0)!
    const [above, below] = [markAt(planOf(upright), studyOf(upright), 30, 9), markAt(planOf(upright), studyOf(upright), 30, 9, -1)]
    expect(above.x).toBeCloseTo(30)
    expect(below.x).toBeCloseTo(30)
    expect(above.y).toBeCloseTo(-9)
    expect(below.y).toBeCloseTo(139)
  })

  test('lies a third of the way out on a fan, turned as its place is', () => {
    const fan = cases.find((each) => each.layout === 'fan' && each.angle === 0)!
    const mark = markAt(planOf(fan), studyOf(fan), fan.length / 4, 9)
    expect(mark.x).toBeCloseTo(45)
    expect(mark.y).toBeCloseTo(65 + 0.36 * 90)
  })
})

describe('what lies at a place', () => {
  const fan = cases.find((each) => each.layout === 'fan')!
  const laid = studyOf(fan, {
    bands: [{ begin: 5, end: 20 }, { begin: 25, end: 100 }] as PanelStudy['bands'],
    seams: [{ begin: 20, end: 25 }, { begin: fan.length - 4, end: fan.length + 5 }] as PanelStudy['seams'],
  })

  test('is a band or a seam, the seam between its two ends only', () => {
    expect(zoneAt(laid, 12)).toEqual({ kind: 'band', at: 0 })
    expect(zoneAt(laid, 20)).toEqual({ kind: 'band', at: 0 })
    expect(zoneAt(laid, 22)).toEqual({ kind: 'seam', at: 0 })
    expect(zoneAt(laid, 60)).toEqual({ kind: 'band', at: 1 })
    expect(zoneAt(laid, 150)).toBeNull()
  })

  test('is the last seam of a fan before and after its beginning', () => {
    expect(zoneAt(laid, fan.length - 1)).toEqual({ kind: 'seam', at: 1 })
    expect(zoneAt(laid, 2)).toEqual({ kind: 'seam', at: 1 })
  })
})

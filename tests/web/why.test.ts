import { WHYS, whyOf } from '../../web/src/shared/why'

describe('help beside a knob', () => {
  test('goes by what the knob is called', () => {
    expect(whyOf('Passes of Boiler Blue')).toMatch(/go over it/)
    expect(whyOf('Tool for Boiler Blue')).toMatch(/Foam lays more/)
    expect(whyOf('Tool of the swatch')).toMatch(/deeper than an everyday blend/)
    expect(whyOf('Passes of the swatch ')).toMatch(/depth of your swatch/)
    expect(whyOf('Seam of Brass Gauge and Firebox Orange')).toMatch(/drag it/)
    expect(whyOf('Name')).toBeUndefined()
  })

  test.each(WHYS.map(([called, why]) => [String(called), why]))('%s: is a short sentence without figures of colour science', (_, why) => {
    expect(why).toMatch(/^[A-Z].*\.$/)
    expect(why.length).toBeLessThan(150)
    expect(why).not.toMatch(/ΔE|L\*|chroma|CIE|dose/)
  })
})

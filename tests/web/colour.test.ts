import { readColour } from '../../web/src/shared/colour'

const lab = (l: number, a: number, b: number) => ({ lab: [l, a, b], illuminant: 'D50' })

describe('a colour as typed', () => {
  test.each([
    ['#2a5ca8', { hex: '#2a5ca8' }],
    ['2A5CA8', { hex: '#2A5CA8' }],
    ['#2ac', { hex: '#22aacc' }],
    [' 2ac ', { hex: '#22aacc' }],
    ['55, 20, -30', lab(55, 20, -30)],
    ['55,20,-30', lab(55, 20, -30)],
    ['55 20 -30', lab(55, 20, -30)],
    ['55; 20; -30', lab(55, 20, -30)],
    ['55.2, 20.1, -30', lab(55.2, 20.1, -30)],
    ['55,2; 20,1; -30', lab(55.2, 20.1, -30)],
    ['55,2 20,1 -30,5', lab(55.2, 20.1, -30.5)],
    ['55.2, 20.1, −30', lab(55.2, 20.1, -30)],
    ['Lab(55, 20, -30)', lab(55, 20, -30)],
    ['lab 55 20 -30', lab(55, 20, -30)],
    ['L 55 a 20 b -30', lab(55, 20, -30)],
    ['L* = 55, a* = 20, b* = -30', lab(55, 20, -30)],
    ['L:55 a:20 b:-30', lab(55, 20, -30)],
    ['55, .5, +3', lab(55, 0.5, 3)],
  ] as const)('%s is read', (text, colour) => {
    expect(readColour(text)).toEqual(colour)
  })

  test.each(['', 'blue', '#12', '#1234', '#12345g', '55, 20', '55, 20, -30, 4', '55 20 x', '1.2.3 4 5'])('%s is none', (text) => {
    expect(readColour(text)).toBeNull()
  })
})

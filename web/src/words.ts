/** How the job's words are said on screen. */
import type { Formula, Illuminant, Load, Surface, Tool, VerdictKind, Way } from './generated/words'

export const formulaSaid: Record<Formula, string> = {
  dye: 'dye',
  reactive_dye: 'reactive dye',
  hybrid: 'hybrid',
  fusion: 'fusion',
  pigment: 'pigment',
  fluorescent: 'fluorescent',
  unknown: 'formula unknown',
}

export const surfaceSaid: Record<Surface, string> = {
  glossy: 'glossy',
  coated: 'coated',
  smooth: 'smooth',
  textured: 'textured',
  watercolour: 'watercolour',
  absorbent: 'absorbent',
}

export const toolSaid: Record<Tool, string> = {
  brush: 'brush',
  foam: 'foam',
  stamp: 'stamp',
  brayer: 'brayer',
  pad: 'the pad itself',
  smoosh: 'smoosh',
  paintbrush: 'paintbrush',
}

export const loadSaid: Record<Load, string> = {
  blotted: 'blotted',
  light: 'light',
  normal: 'normal',
  juicy: 'juicy',
}

export const lightSaid: Record<Illuminant, string> = {
  D65: 'Daylight',
  D50: 'Soft daylight',
  A: 'Warm room lamp',
  'LED-B3': 'LED lamp',
}

export const kindSaid: Record<VerdictKind, string> = {
  clean: 'Clean',
  muted: 'Muted',
  muddy: 'Muddy',
  swamped: 'Swamped',
  no_new_colour: 'No new colour',
}

export const waySaid: Record<Way, string> = {
  seen_through: 'seen through each other',
  mixed_wet: 'mixed wet',
  covered: 'covered by the upper ink',
}

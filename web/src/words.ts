/** How the job's words are said on screen. */
import type {
  Basis, Blend, Edge, Family, Formula, Frame, Hand, Illuminant, Known, Layout, Load, Motif, Opening, PadKind, PadState, Place, Preset, School,
  Standing, Surface, Tool, ToolSet, Topping, Treatment, VerdictKind, Way,
} from './generated/words'

export const formulaSaid: Record<Formula, string> = {
  dye: 'dye',
  reactive_dye: 'reactive dye',
  hybrid: 'hybrid',
  reactive_pigment: 'reactive pigment',
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
  dip: 'dip',
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

export const treatmentSaid: Record<Treatment, string> = {
  spritz: 'water drops',
  heat: 'heat-set',
  glaze: 'clear topcoat',
  blot: 'blot',
}

export const presetSaid: Record<Preset, string> = {
  stamped_over: 'Stamped over',
  blended_into: 'Blended into one another',
  coloured_card: 'On coloured card',
  layered_dried: 'Layered and dried',
  dipped_again: 'Dipped again and again',
  white_barrier: 'White barrier below',
  formulas: 'One colour in several formulas',
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

export const knownSaid: Record<Known, string> = {
  lid: 'the colour of the lid',
  eye: 'matched by eye',
  typed: 'typed in',
  photo: 'read off a photo',
  reader: 'a hand-held reader',
  measured: 'a measured spectrum',
  fitted: 'fitted to swatches',
}

export const standingSaid: Record<Standing, string> = {
  owned: 'owned',
  wanted: 'wanted',
  reference: 'only a reference',
  used_up: 'used up',
}

export const placeSaid: Record<Place, string> = { light: 'light', middle: 'middle', dark: 'dark' }

export const padKindSaid: Record<PadKind, string> = { felt: 'felt pad', foam: 'foam pad' }

export const padSaid: Record<PadState, string> = {
  fresh: 'freshly re-inked',
  good: 'in good order',
  drying: 'drying out',
  dry: 'all but dry',
}

export const toolSetSaid: Record<ToolSet, string> = { dye: 'dyes', hybrid: 'hybrids', pigment: 'pigments', white: 'white' }

export const familySaid: Record<Family, string> = {
  red: 'reds',
  orange: 'oranges',
  yellow: 'yellows',
  green: 'greens',
  blue: 'blues',
  purple: 'purples',
  brown: 'browns',
  grey: 'greys',
  white: 'whites',
  black: 'blacks',
}

export const basisSaid: Record<Basis, string> = { cover: 'cover', text: 'text', index: 'index', bristol: 'bristol' }

export interface Choice<T> {
  value: T
  label: string
}

/** Words of a list as choices, in its order. */
export const choices = <T extends string>(words: readonly T[], said: Record<T, string>): Choice<T>[] =>
  words.map((value) => ({ value, label: said[value] }))

export const blendSaid: Record<Blend, string> = {
  family: 'One family',
  rainbow: 'Rainbow',
  many: 'Few inks, many colours',
  bridge: 'Opposites with a bridge',
}

export const layoutSaid: Record<Layout, string> = {
  straight: 'Bands that blend',
  stripes: 'Stripes apart',
  rings: 'Rings',
  fan: 'Fan',
  edge: 'In from the edges',
  ribbons: 'Ribbons',
  roller: 'On one roller',
}

export const schoolSaid: Record<School, string> = {
  lightest_first: 'Lightest first',
  darkest_first: 'Darkest first',
  middle_first: 'Middle first',
  as_listed: 'As the bands stand',
}

export const handSaid: Record<Hand, string> = { light: 'a light hand', usual: 'the usual hand', deep: 'built up deep' }

export const edgeSaid: Record<Edge, string> = { cut: 'a cut edge', torn: 'a torn edge' }

export const toppingSaid: Record<Topping, string> = { ink: 'Ink through a stencil', water: 'Water', glaze: 'Clear topcoat' }

export const motifSaid: Record<Motif, string> = {
  all: 'all over',
  dots: 'dots',
  lines: 'slanting lines',
  hearts: 'hearts',
  drops: 'scattered drops',
  own: 'your own shape',
}

export const openingSaid: Record<Opening, string> = {
  rectangle: 'Rectangle',
  circle: 'Circle',
  heart: 'Heart',
  banner: 'Banner',
  own: 'Your own shape',
}

export const frameSaid: Record<Frame, string> = { none: 'nothing', border: 'a bare border', mat: 'a mat of another card' }

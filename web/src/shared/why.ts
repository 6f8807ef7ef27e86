/** Why a knob is there and what it does, by what the knob is called: one sentence or two, in a cardmaker's words. */

/** What a name begins with or is, and the help that is given. The first that fits counts. */
export const WHYS: readonly (readonly [RegExp, string])[] = [
  // Of swatches, before what holds for every tool
  [/^Tool of the swatch$/, 'A stamped swatch is deeper than an everyday blend: Wempa has to know how yours was made.'],
  [/^(Load|Passes) of the swatch$/, 'The depth of your swatch depends on it.'],
  [/^(Ink|Tool) of the strip$/, 'One ink at one, two, four and eight passes tells how much your own hand lays.'],
  // What holds for several rooms
  [
    /^Viewing light$/,
    'Two colours that match by day may part under a lamp: look at the card in the light it will hang in.',
  ],
  [
    /^Mud line$/,
    'From which mud on you call it mud. Move it down if you like only clean colours, up if dusky ones please you.',
  ],
  [
    /^Tool( |$)/,
    'Foam lays more than a brush, a stamp most of all; a dip or a paintbrush covers only part of the card.',
  ],
  [
    /^Load( |$)/,
    'How much ink the tool carries: a freshly inked pad is juicy and wants blotting first, a tapped tool carries little.',
  ],
  [
    /^Passes( |$)/,
    'How often you go over it. On card that drinks, each pass deepens it; on glossy card the first ones fill it.',
  ],
  [
    /^(Card|On which card|Card of the (strip|practice))$/,
    'Coloured card mixes its own colour into every see-through ink, and glossy card takes less than card that drinks.',
  ],
  // Overlap
  [/^Your name for the colour$/, 'A name of your own, so that you find the mix again in the lists and in prints.'],
  [/^Single keys/, 'Turn it off if you dictate, or if a key hit by chance does things.'],
  [/^Compare with$/, 'Another overlap beside this one, both drawn alike.'],
  // Chart
  [/^Ink to look at$/, 'One ink with all the others, instead of all with all.'],
  [/^Order$/, 'By hue neighbours stand together; cleanest or newest first brings to the front what is worth a try.'],
  [/^Ranges$/, 'Leave out ranges that you never mix, so that the rest is seen better.'],
  [/^Hide mud$/, 'What goes muddy is left blank.'],
  [/^Only new colours$/, 'Leaves out mixes that look like an ink you own already.'],
  [/^One of each look$/, 'Of mixes that look alike the cleanest one stands for all.'],
  [/^Pads in good order$/, 'Leaves out pads that are drying out: what they give is not sure.'],
  // Match
  [/^Colour wanted/, 'The colour that you want to make: typed here, picked off a photo, or taken from an ink below.'],
  [/^Ink to be matched$/, 'For the day a pad runs out: which of the others make its colour.'],
  [/^Overlap to be matched$/, 'A mix you like, to be made from other inks or in another way.'],
  [/^What lies there already$/, 'To be worked over: what is on the card stays, and more comes on top.'],
  [/^Inks may be thinned/, 'Water makes paler shades of an ink, but plain card will warp under much of it.'],
  [/^Inks to leave out$/, 'Pads that you do not want to use for this.'],
  // Panel
  [/^Seam of /, 'Where two bands meet: drag it, or move it with the arrow keys.'],
  [/^How the bands lie$/, 'Straight across, in rings, as a fan, in from the edges, or as ribbons along a torn edge.'],
  [/^Angle of the bands/, 'A slight slant hides a seam that is not quite straight.'],
  [
    /^How softly the bands blend$/,
    'Soft blends look airbrushed and take more passes; stripes are quick and keep opposites apart.',
  ],
  [/^in-betweens count$/, 'The colour between two bands is given as much room as a band of its own.'],
  [/^pale inks wider$/, 'A pale ink is easily swallowed by its neighbours: a wider band keeps it seen.'],
  [/^Common sizes$/, 'Sizes that fit usual cards and envelopes.'],
  [/^(Width|Height) of the panel$/, 'The finished piece, without what is cut off.'],
  [/^Unit$/, 'Inches with fractions, or millimetres; both are always shown on the plan.'],
  [/^Bleed$/, 'Inked over the edge and cut away, so that no white sliver is left.'],
  [/^Frame$/, 'A border left bare, or a mat of card around the panel.'],
  [/^Width of the frame$/, 'How much of the front the border or mat takes on each side.'],
  [/^Common sheets$/, 'How many panels come from a sheet as you buy it.'],
  [/^(Width|Height) of the sheet$/, 'The sheet that the panels are cut from.'],
  [/^all panels one way/, 'Card folds and curls along its grain: panels that all lie one way behave alike.'],
  [/^White under all of it$/, 'White brushed on first keeps coloured card from dulling what comes over it.'],
  [
    /^Order of laying$/,
    'Lightest first keeps pale pads clean; other orders are offered because some work the other way round.',
  ],
  [
    /^Hand, where/,
    'A light hand builds the colour up in many passes, a loaded one gets there at once and forgives less.',
  ],
  [/^Shape$/, 'The shape that is cut out of the panel.'],
  [/^(Width|Height) of the window$/, 'How large the cut is: what lies outside it is not seen.'],
  // Table
  [/^Drying$/, 'Air keeps the colour; a heat tool is quicker, and some find that it pales the colour slightly.'],
  [
    /^Cleaning between inks$/,
    'A clean brush and mat keep pale pads pale; in rainbow order some let it carry over on purpose.',
  ],
  [/^Reactive and plain dyes$/, 'Whether one wiped brush serves both, or each has its own.'],
  [/^Several panels$/, 'Alike ones can be worked together ink by ink, or each to its end.'],
  [/^Your hand$/, 'How you begin: lightly and built up, or loaded at once.'],
  [/^On which piece$/, 'The panel or square that looks wrong.'],
  [
    /^Laid how many minutes ago$/,
    'Much that looks blotchy while wet evens out on drying: how long ago tells whether to wait.',
  ],
  // Swatch book
  [/^Find near a colour/, 'Swatches that look like it, the nearest first.'],
  [/^(Verdict|Tag|Order of the book)$/, 'Narrows the book down, or turns its order.'],
  [/^Colour that it came out/, 'What you really got; off a photo it is read for you.'],
  [/^It surprised me$/, 'Marks what did not come as you thought, so that you find it again.'],
  [/^Inks that it is very like$/, 'Feeds the list of what can stand in for what.'],
  [/^Tags$/, 'Words of your own to find it by.'],
  [/^Learn nothing from it$/, 'For a smudge or a slip: kept in the book, left out of what Wempa learns.'],
  // Stash
  [/^(Formula|Hue|Range|Condition) shown$/, 'Shows only inks like that; the others stay on the shelf.'],
  [/^Shown as$/, 'Pads on a shelf, on the painter’s circle, or as a list with all that is known.'],
  [/^Colour as hex or Lab$/, 'For those who have the numbers; by eye or off a photo works as well.'],
  [/^Colour picker$/, 'The computer’s own way to pick a colour.'],
  [/^How far a nudge goes$/, 'Begin with good steps; when none comes nearer, take smaller ones.'],
  [
    /^(The swatch is lit by|segmented)$/,
    'By daylight the screen and the card can be compared; under a lamp the card looks warmer than it is.',
  ],
  [/^Formula$/, 'What it is made of decides whether it soaks in or sits on top, and so what comes of every mix.'],
  [/^What it is made of/, 'It decides whether the ink soaks in or sits on top, and so what comes of every mix.'],
  [/^On the shelf$/, 'Only what you own is offered; wanted inks are remembered for the next time you buy.'],
  [/^Place in its set$/, 'Whether it is the light, middle or dark one of its set.'],
  [/^Kind of pad$/, 'Foam pads give more ink than felt ones.'],
  [/^Last re-inked$/, 'A fresh pad floods, an old one dries out: from the day Wempa knows which to expect.'],
  [/^Condition of the pad$/, 'Say it if you know better than the date does.'],
  [/^Refill at hand$/, 'Whether you can re-ink it at once.'],
  [/^No longer sold$/, 'Reminds you to be sparing, and to look for what can stand in for it.'],
  [/^Card of the swatch$/, 'A swatch on cream card is yellower than the ink is: Wempa takes the card out again.'],
  [/^Dark card of the second swatch$/, 'The same ink on dark card shows how well it covers.'],
  [/^(Lamp of the simulated camera|Which simulated camera)$/, 'To try it without a photo of your own.'],
  [/^Paper$/, 'The paper in your printer.'],
]

/** The help for a knob by its name, or nothing. */
export const whyOf = (name: string): string | undefined => WHYS.find(([called]) => called.test(name.trim()))?.[1]

const KNOB = 'input, textarea, [role=slider], [role=combobox], [role=spinbutton], [role=radiogroup]'
const AROUND = `.el-select, .el-input-number, .el-checkbox, .el-segmented, label, ${KNOB}`

/** What a knob is called. */
export function nameOf(knob: Element): string {
  const by = knob.getAttribute('aria-labelledby')
  const label = knob.getAttribute('aria-label') ?? (by ? document.getElementById(by)?.textContent : null)
  return label ?? (knob instanceof HTMLInputElement ? (knob.labels?.[0]?.textContent ?? '') : '')
}

/** The knob that something is part of: a field by what surrounds it. */
export function knobAt(target: EventTarget | null): Element | null {
  if (!(target instanceof Element)) return null
  const around = target.closest(AROUND)
  const knob = around?.matches(KNOB) ? around : around?.querySelector(KNOB)
  // One choice of several goes by what all of them are for.
  return knob?.closest('[role=radiogroup]') ?? knob ?? null
}

/**
 * The panel on the table: how it is planned, what it looks like, every change.
 *
 * A change is painted and then stored; while something is being dragged it is only painted.
 * The service predicts and paints, here the bytes go onto a canvas.
 */
import { useLocalStorage, useSessionStorage } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'

import {
  api, framed, need, needOrNull, Refused, type Panel, type PanelBand, type PanelDesk, type PanelIn, type PanelSeam, type PanelStudy,
  type PanelSummary, type PanelWindow, type SeamFix, type StashInk, type Through,
} from '../api'
import { DEFAULT_MUD_LINE, type Illuminant } from '../generated/words'
import { useDesk } from './useDesk'
import { useStash } from './useStash'

export type Picked = { kind: 'band' | 'seam'; at: number } | { kind: 'front' }
export interface Painting {
  study: PanelStudy
  /** Red, green, blue, row by row. */
  pixels: Uint8Array
  /** The part that is shown, mm: left, top, right, bottom. */
  box: [number, number, number, number]
}

const { inks, cards, trouble, attempt: told } = useStash()
const { atHand } = useDesk()

const desk = shallowRef<PanelDesk | null>(null)
const panel = computed(() => desk.value?.panel ?? null)
/** What is being dragged, not stored yet. */
const held = shallowRef<PanelIn | null>(null)
const painting = shallowRef<Painting | null>(null)
const panels = shallowRef<PanelSummary[]>([])
const fixes = shallowRef<{ key: string; found: SeamFix[] } | null>(null)
const loading = ref(true)
const openId = useLocalStorage('wempa-panel', 0)
const picked = ref<Picked>({ kind: 'front' })
const wet = ref(false)
/** How close one looks, and at which spot, as shares of the front. */
const zoom = ref({ times: 1, x: 0.5, y: 0.5 })
/** Pixels to a millimetre, when all of it is shown. */
const scale = ref(4)
/** The seam that was opened in Overlap: it may come back from there. */
const away = useSessionStorage<{ panel: number; seam: number; overlap: number } | null>('wempa-seam', null, {
  serializer: { read: (text) => JSON.parse(text), write: (value) => JSON.stringify(value) },
})

const plan = computed<PanelIn | null>(() => held.value ?? (panel.value ? bodyOf(panel.value) : null))
const study = computed(() => painting.value?.study ?? null)
const unit = computed(() => plan.value?.unit ?? 'mm')
const card = computed(() => cards.value.find((each) => each.id === plan.value?.card_id) ?? null)
const inkOf = computed(() => new Map(inks.value.map((ink) => [ink.id, ink])))
/** Layouts whose bands lie side by side across the front. */
const flat = computed(() => ['straight', 'stripes', 'ribbons', 'roller'].includes(plan.value?.layout ?? ''))

function bodyOf(stored: Panel): PanelIn {
  const body: Partial<Panel> = { ...stored }
  delete body.id
  delete body.revision
  return body as PanelIn
}

const attempt = (work: () => Promise<void>): Promise<boolean> => told(work, fetchPanel)

function show(found: PanelDesk | null): void {
  if (found?.panel.id !== desk.value?.panel.id) {
    picked.value = { kind: 'front' }
    zoom.value = { times: 1, x: 0.5, y: 0.5 }
  }
  desk.value = found
  held.value = null
  openId.value = found?.panel.id ?? 0
  const now = picked.value
  if (!found) painting.value = null
  else if (now.kind !== 'front' && now.at >= ((now.kind === 'band' ? found.panel.bands : found.panel.seams)?.length ?? 0)) picked.value = { kind: 'front' }
}

/** The part that is looked at, mm. */
function boxOf(body: PanelIn): [number, number, number, number] {
  const edge = body.frame === 'border' ? 2 * (body.frame_width ?? 0) : 0
  const width = (body.width ?? 0) - edge
  const height = (body.height ?? 0) - edge
  const { times, x, y } = zoom.value
  const [w, h] = [width / times, height / times]
  const left = Math.min(Math.max(0, x * width - w / 2), width - w)
  const top = Math.min(Math.max(0, y * height - h / 2), height - h)
  return [left, top, left + w, top + h]
}

let turn = 0
let painter: Promise<void> | null = null
let again = false

/** Paint what is planned now. Of changes that come faster than pictures the last is painted. */
async function paint(): Promise<void> {
  if (painter) {
    again = true
    return painter
  }
  painter = (async () => {
    do {
      again = false
      const body = plan.value
      if (!body) return
      const mine = ++turn
      const box = boxOf(body)
      const perMm = Math.min(scale.value * zoom.value.times, 48)
      const query = new URLSearchParams({ per_mm: perMm.toFixed(3), wet: String(wet.value), box: box.map((side) => side.toFixed(3)).join(',') })
      const { head, bytes } = await framed<PanelStudy>(`/api/panels/picture?${query}`, body)
      if (mine === turn) painting.value = { study: head, pixels: bytes, box }
    } while (again)
  })()
  try {
    await painter
  } finally {
    painter = null
  }
}

/** Paint in the background: what is refused is said, and what goes well does not wipe away what somebody is being told. */
async function repaint(): Promise<void> {
  try {
    await paint()
  } catch (error) {
    if (!(error instanceof Refused)) throw error
    trouble.value = error.message
  }
}

async function fetchPanel(): Promise<void> {
  show(await needOrNull(api.GET('/api/panels/open', { params: { query: { panel: openId.value } } })))
  await paint()
}

async function load(): Promise<void> {
  loading.value = true
  await attempt(fetchPanel)
  loading.value = false
}

async function fetchPanels(): Promise<void> {
  panels.value = await need(api.GET('/api/panels'))
}

let queue: Promise<boolean> = Promise.resolve(true)
function inTurn(work: () => Promise<void>): Promise<boolean> {
  queue = queue.then(() => attempt(work))
  return queue
}

/**
 * Change the panel; `edit` gets it as it is when its turn comes, null leaves it alone. It is painted, and then
 * stored; what cannot be goes back to what was there.
 */
function change(edit: (now: PanelIn) => PanelIn | null, what?: string): Promise<boolean> {
  return inTurn(async () => {
    const now = panel.value
    if (!now) return
    const body = edit(held.value ?? bodyOf(now))
    if (!body) return
    try {
      held.value = body
      await paint()
      const header = { 'if-match': `"${now.revision}"` }
      show(await need(api.PUT('/api/panels/{item_id}', { params: { path: { item_id: now.id }, query: what ? { what } : {}, header }, body })))
    } catch (error) {
      held.value = null
      await paint().catch(() => undefined)
      throw error
    }
  })
}

/** Show what is being dragged, without storing it. */
function hold(body: PanelIn): void {
  held.value = body
  void repaint()
}

const changeBand = (at: number, edit: Partial<PanelBand>, what: string): Promise<boolean> =>
  change((now) => ({ ...now, bands: now.bands?.map((band, k) => (k === at ? { ...band, ...edit } : band)) }), what)

const changeSeam = (at: number, edit: Partial<PanelSeam>, what: string): Promise<boolean> =>
  change((now) => ({ ...now, seams: now.seams?.map((seam, k) => (k === at ? { ...seam, ...edit } : seam)) }), what)

/** Lay an ink instead of the picked band, or as one more. */
function layInk(ink: StashInk, more: boolean): Promise<boolean> {
  const now = picked.value
  if (now.kind === 'band' && !more)
    return change(
      (body) => ({ ...body, bands: body.bands?.map((band, k) => (k === now.at ? { ink_id: ink.id, weight: band.weight, width: band.width, dilution: 0 } : band)) }),
      `Take ${ink.name}`,
    )
  return change((body) => ({ ...body, bands: [...(body.bands ?? []), { ink_id: ink.id, dilution: 0 }] }), `Add ${ink.name}`)
}

/** Take a band out; of its two seams the first one stays. */
const takeOut = (at: number): Promise<boolean> =>
  change(
    (now) => ({ ...now, bands: now.bands?.filter((_, k) => k !== at), seams: now.seams?.filter((_, k) => k !== Math.min(at, (now.seams?.length ?? 1) - 1)) }),
    'Take a band out',
  )

function moveBand(at: number, by: number): Promise<boolean> {
  return change((now) => {
    const bands = [...(now.bands ?? [])]
    const to = at + by
    const [one, other] = [bands[at], bands[to]]
    if (!one || !other) return null
    bands[at] = other
    bands[to] = one
    picked.value = { kind: 'band', at: to }
    return { ...now, bands }
  }, 'Move a band')
}

const bringBack = (at: number): Promise<boolean> =>
  change((now) => {
    const band = now.bands?.[at]
    return band ? { ...now, bands: [...(now.bands ?? []), { ...band, width: null, weight: null }] } : null
  }, 'Bring an ink back at the far end')

/** All bands equally wide again, and seams as wide as they are by themselves. */
const evenOut = (): Promise<boolean> =>
  change(
    (now) => ({
      ...now,
      bands: now.bands?.map((band) => ({ ...band, width: null, weight: null })),
      seams: now.seams?.map((seam) => ({ ...seam, overlap: null, feather: null })),
    }),
    'Even out the bands',
  )

/** The plan with the boundary after band `at` moved so many mm from where it is shown; null if it cannot be. */
function moved(body: PanelIn, at: number, by: number): PanelIn | null {
  const shown = study.value?.bands
  const seams = body.seams ?? []
  if (!shown || !body.bands || shown.length !== body.bands.length) return null
  const next = (at + 1) % shown.length
  const wide = shown.map((band) => band.end - band.begin)
  wide[at] = (wide[at] ?? 0) + by
  wide[next] = (wide[next] ?? 0) - by
  if (Math.min(wide[at] ?? 0, wide[next] ?? 0) < 1) return null
  return {
    ...body,
    // Widths are shares from now on, so that all others stay as they are; what is held stays in mm.
    bands: body.bands.map((band, k) => (band.width === null || band.width === undefined ? { ...band, weight: round(wide[k] ?? 1) } : { ...band, width: round(wide[k] ?? 1) })),
    seams: body.count_between
      ? seams
      : seams.map((seam, k) => ({ ...seam, overlap: study.value?.seams[k]?.overlap ?? seam.overlap, feather: study.value?.seams[k]?.feather ?? seam.feather })),
  }
}
const round = (value: number): number => Math.round(value * 100) / 100

async function fetchFixes(seam: number): Promise<void> {
  const now = panel.value
  if (!now) return
  const key = `${now.id} ${now.revision} ${seam}`
  if (fixes.value?.key === key) return
  fixes.value = null
  try {
    const found = await need(api.GET('/api/panels/{item_id}/fixes', { params: { path: { item_id: now.id }, query: { seam } } }))
    fixes.value = { key, found }
  } catch (error) {
    if (!(error instanceof Refused)) throw error
    fixes.value = { key, found: [] }
  }
}
const fixesOf = (seam: number): SeamFix[] | null => (fixes.value?.key === `${panel.value?.id} ${panel.value?.revision} ${seam}` ? fixes.value.found : null)

const through = (window: PanelWindow): Promise<Through | null> =>
  plan.value ? need(api.POST('/api/panels/through', { body: { panel: plan.value, window } })) : Promise.resolve(null)

const empty = (name: string): PanelIn => ({
  name,
  card_id: cards.value[0]?.id ?? null,
  bands: atHand.value.slice(0, 3).map((ink) => ({ ink_id: ink.id, dilution: 0 })),
}) as PanelIn

const begin = (): Promise<boolean> =>
  inTurn(async () => {
    await fetchPanels()
    const taken = new Set(panels.value.map((each) => each.name))
    let name = 'New panel'
    for (let n = 2; taken.has(name); n++) name = `New panel (${n})`
    show(await need(api.POST('/api/panels', { body: empty(name) })))
    await paint()
    await fetchPanels()
  })

const open = (id: number): Promise<boolean> =>
  inTurn(async () => {
    openId.value = id
    await fetchPanel()
  })

const copy = (id: number): Promise<boolean> =>
  inTurn(async () => {
    show(await need(api.POST('/api/panels/{item_id}/copy', { params: { path: { item_id: id } } })))
    await paint()
    await fetchPanels()
  })

const discard = (id: number): Promise<boolean> =>
  inTurn(async () => {
    panels.value = await need(api.DELETE('/api/panels/{item_id}', { params: { path: { item_id: id } } }))
    await fetchPanel()
  })

/** A stored panel as it is, with its picture; for looking at beside another. */
async function peek(id: number): Promise<{ plan: PanelIn; painting: Painting } | null> {
  const found = await needOrNull(api.GET('/api/panels/open', { params: { query: { panel: id } } }))
  if (!found) return null
  const body = bodyOf(found.panel)
  const { head, bytes } = await framed<PanelStudy>('/api/panels/picture?per_mm=3', body)
  return { plan: body, painting: { study: head, pixels: bytes, box: [0, 0, head.inked[0] ?? 1, head.inked[1] ?? 1] } }
}

/** Open a seam's two inks as an overlap of their own. */
const seamToOverlap = (seam: number): Promise<boolean> =>
  inTurn(async () => {
    const now = panel.value
    if (!now) return
    const made = await need(api.POST('/api/panels/{item_id}/seams/{seam}/overlap', { params: { path: { item_id: now.id, seam } } }))
    away.value = { panel: now.id, seam, overlap: made.overlap.id }
    localStorage.setItem('wempa-overlap', String(made.overlap.id))
    await useDesk().open(made.overlap.id)
    location.hash = 'overlap'
  })

/** Take the two inks of the overlap back into their seam. */
const seamBack = (): Promise<boolean> =>
  inTurn(async () => {
    const from = away.value
    if (!from) return
    show(
      await need(
        api.POST('/api/panels/{item_id}/seams/{seam}/take/{overlap_id}', {
          params: { path: { item_id: from.panel, seam: from.seam, overlap_id: from.overlap } },
        }),
      ),
    )
    away.value = null
    picked.value = { kind: 'seam', at: from.seam }
    await paint()
    location.hash = 'panel'
  })

const view = (illuminant: Illuminant): Promise<boolean> =>
  change((now) => ({ ...now, settings: { ...(now.settings ?? { mud_line: DEFAULT_MUD_LINE, constants: {} }), illuminant } }), 'Change the light')

watch([wet, zoom, scale], () => void repaint())

export function usePanel() {
  return {
    desk, panel, plan, held, painting, study, panels, picked, wet, zoom, scale, unit, card, inkOf, flat, loading, away,
    load, fetchPanel, fetchPanels, repaint, change, hold, changeBand, changeSeam, layInk, takeOut, moveBand, bringBack, evenOut, moved,
    fetchFixes, fixesOf, through, begin, open, copy, discard, peek, seamToOverlap, seamBack, view,
  }
}

/**
 * The open panel: how it is planned, what it looks like, every change.
 *
 * A change is painted and then stored; while something is being dragged it is only painted.
 * The service plans, predicts and paints, here the bytes go onto a canvas. Which panel is open
 * stands in the address.
 *
 * @example const { plan, study, doTo, change } = usePanel()
 */
import { createGlobalState, useLocalStorage, useSessionStorage } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'

import {
  api,
  fetched,
  framed,
  need,
  needOrNull,
  Refused,
  type Panel,
  type PanelBand,
  type PanelDesk,
  type PanelEdit,
  type PaintedPanel,
  type PanelItem,
  type PanelSeam,
  type PanelStudy,
  type PanelSummary,
  type Schemas,
  type PanelWindow,
  type SeamFix,
  type StashInk,
  type Through,
} from '@/shared/api'
import type { Illuminant } from '../../generated/words'
import { useQueue } from '@/shared/queue'
import { useNewest } from '@/shared/newest'
import { at as addressOf, idIn, nameInAddress, router } from '@/shared/router'
import { useOverlap } from '../overlap/useOverlap'
import { useStash } from '../stash/useStash'
import { isFlat } from './geometry'

export type Picked = { kind: 'band' | 'seam'; at: number } | { kind: 'front' }
export interface Painting {
  study: PanelStudy
  /** Red, green, blue, row by row. */
  pixels: Uint8Array
  /** The part that is shown, mm: left, top, right, bottom. */
  box: [number, number, number, number]
}
type Doing = PanelEdit

export const usePanel = createGlobalState(() => {
  const { cards, inkOf, attempt: told, quietly } = useStash()

  const desk = shallowRef<PanelDesk | null>(null)
  const panel = computed(() => desk.value?.panel ?? null)
  /** What is being dragged, not stored yet. */
  const held = shallowRef<PanelItem | null>(null)
  const painting = shallowRef<Painting | null>(null)
  const panels = shallowRef<PanelSummary[]>([])
  const fixes = shallowRef<{ key: string; found: SeamFix[] } | null>(null)
  const loading = ref(true)
  /** Which panel was open last, for a tab whose address names none. */
  const lastOpen = useLocalStorage('wempa-panel', 0)
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

  const plan = computed<PanelItem | null>(() => held.value ?? (panel.value ? bodyOf(panel.value) : null))
  const study = computed(() => painting.value?.study ?? null)
  const unit = computed(() => plan.value?.unit ?? 'mm')
  const card = computed(() => cards.value.find((each) => each.id === plan.value?.card_id) ?? null)
  /** Layouts whose bands lie side by side across the front. */
  const flat = computed(() => plan.value !== null && isFlat(plan.value))

  function bodyOf(stored: Panel): PanelItem {
    const body: Partial<Panel> = { ...stored }
    delete body.id
    delete body.revision
    return body as PanelItem
  }

  const inTurn = useQueue((work) => told(work, fetchPanel))

  function show(found: PanelDesk | null): void {
    if (found?.panel.id !== desk.value?.panel.id) {
      picked.value = { kind: 'front' }
      zoom.value = { times: 1, x: 0.5, y: 0.5 }
    }
    desk.value = found
    held.value = null
    if (found) lastOpen.value = found.panel.id
    nameInAddress('panel', found?.panel.id ?? 0)
    const now = picked.value
    if (!found) painting.value = null
    else if (
      now.kind !== 'front' &&
      now.at >= ((now.kind === 'band' ? found.panel.bands : found.panel.seams)?.length ?? 0)
    )
      picked.value = { kind: 'front' }
  }

  /** The part that is looked at, mm. */
  function boxOf(body: PanelItem): [number, number, number, number] {
    const edge = body.frame === 'border' ? 2 * (body.frame_width ?? 0) : 0
    const width = (body.width ?? 0) - edge
    const height = (body.height ?? 0) - edge
    const { times, x, y } = zoom.value
    const [w, h] = [width / times, height / times]
    const left = Math.min(Math.max(0, x * width - w / 2), width - w)
    const top = Math.min(Math.max(0, y * height - h / 2), height - h)
    return [left, top, left + w, top + h]
  }

  /** How a part of the front is painted, for an address. */
  function viewOf(box: readonly number[]): string {
    const perMm = Math.min(scale.value * zoom.value.times, 48)
    return new URLSearchParams({
      per_mm: perMm.toFixed(3),
      wet: String(wet.value),
      box: box.map((side) => side.toFixed(3)).join(','),
    }).toString()
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
        const { head, bytes } = await framed<PanelStudy>(`/api/panels/picture?${viewOf(box)}`, body)
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
  const repaint = (): Promise<void> => quietly(paint)

  async function fetchPanel(): Promise<void> {
    const panelId = idIn('panel') || desk.value?.panel.id || lastOpen.value
    show(await needOrNull(api.GET('/api/panels/open', { params: { query: { panel: panelId } } })))
    await paint()
  }

  async function load(): Promise<void> {
    loading.value = true
    await told(fetchPanel)
    loading.value = false
  }

  const fetchPanels = useNewest(
    () => need(api.GET('/api/panels')),
    (found) => (panels.value = found),
  )

  /** Show what the service answers to a change: the panel, its picture, the band to go on with. */
  function showPainted(head: PaintedPanel, pixels: Uint8Array, box: Painting['box']): void {
    turn++
    if (head.desk) show(head.desk)
    else held.value = head.panel as PanelItem
    painting.value = { study: head.study, pixels, box }
    if (head.done && head.picked !== null) picked.value = { kind: 'band', at: head.picked }
  }

  /** Have a change made, stored and painted, in one; what cannot be goes back to what was there. */
  async function store(now: Panel, doing: Doing, body: PanelItem): Promise<void> {
    try {
      const box = boxOf(body)
      const path = `/api/panels/${now.id}/edit?${viewOf(box)}`
      const { head, bytes } = await framed<PaintedPanel>(path, doing, { 'if-match': `"${now.revision}"` })
      showPainted(head, bytes, box)
    } catch (error) {
      held.value = null
      await paint().catch(() => undefined)
      throw error
    }
  }

  /** Change the panel; `edit` gets it as it is when its turn comes, null leaves it alone. */
  function change(
    edit: (now: PanelItem) => PanelItem | null | Promise<PanelItem | null>,
    what?: string,
  ): Promise<boolean> {
    return inTurn(async () => {
      const now = panel.value
      if (!now) return
      const body = await edit(held.value ?? bodyOf(now))
      if (!body) return
      // What a control was set to stands there at once.
      held.value = body
      await store(now, { do: 'set', panel: body, ...(what ? { what } : {}) }, body)
    })
  }

  /** Change the bands as one does at the table; what is being dragged is meant, where something is. */
  const doTo = (doing: Doing, what: string): Promise<boolean> =>
    inTurn(async () => {
      const now = panel.value
      if (now)
        await store(now, { ...doing, what, ...(held.value ? { panel: held.value } : {}) }, held.value ?? bodyOf(now))
    })

  /** Show what is being dragged, without storing it. */
  function hold(body: PanelItem): void {
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
    const instead = now.kind === 'band' && !more
    return doTo(
      { do: 'lay', at: instead ? now.at : 0, ink_id: ink.id, more: !instead },
      `${instead ? 'Take' : 'Add'} ${ink.name}`,
    )
  }

  const takeOut = (at: number): Promise<boolean> => doTo({ do: 'take_out', at }, 'Take a band out')
  const moveBand = (at: number, by: number): Promise<boolean> => doTo({ do: 'move_band', at, by }, 'Move a band')
  const bringBack = (at: number): Promise<boolean> => doTo({ do: 'bring_back', at }, 'Bring an ink back at the far end')
  /** All bands equally wide again, and seams as wide as they are by themselves. */
  const evenOut = (): Promise<boolean> => doTo({ do: 'even_out', at: 0 }, 'Even out the bands')
  /** Move the boundary at a seam by so many mm. */
  const nudgeBoundary = (seam: number, by: number): Promise<boolean> =>
    doTo({ do: 'move_boundary', at: seam, by }, 'Move a boundary')

  let dragging: Promise<void> | null = null
  let dragged: { seam: number; to: number } | null = null

  /** Drag the boundary at a seam to a place on the line, mm, without storing it. Of moves that come faster than answers the last counts. */
  async function dragBoundary(seam: number, to: number): Promise<void> {
    dragged = { seam, to }
    if (dragging) return dragging
    dragging = quietly(async () => {
      while (dragged && plan.value) {
        const next: { seam: number; to: number } = dragged
        dragged = null
        const box = boxOf(plan.value)
        const doing: Doing = { do: 'move_boundary', at: next.seam, to: next.to, panel: plan.value }
        const { head, bytes } = await framed<PaintedPanel>(`/api/panels/held?${viewOf(box)}`, doing)
        if (head.done) showPainted(head, bytes, box)
      }
    })
    try {
      await dragging
    } finally {
      dragging = null
    }
  }

  /** Store what was dragged, once the last of it has come to lie. */
  async function dropDragged(what: string): Promise<void> {
    await dragging
    if (held.value) await change((now) => now, what)
  }

  async function fetchFixes(seam: number): Promise<void> {
    const now = panel.value
    if (!now) return
    const key = `${now.id} ${now.revision} ${seam}`
    if (fixes.value?.key === key) return
    fixes.value = null
    try {
      const found = await need(
        api.GET('/api/panels/{item_id}/fixes', { params: { path: { item_id: now.id }, query: { seam } } }),
      )
      fixes.value = { key, found }
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      fixes.value = { key, found: [] }
    }
  }
  const fixesOf = (seam: number): SeamFix[] | null =>
    fixes.value?.key === `${panel.value?.id} ${panel.value?.revision} ${seam}` ? fixes.value.found : null

  const through = (window: PanelWindow): Promise<Through | null> =>
    plan.value ? need(api.POST('/api/panels/through', { body: { panel: plan.value, window } })) : Promise.resolve(null)

  /** Show a panel, and go to it. */
  async function goTo(made: PanelDesk): Promise<void> {
    show(made)
    await router.push(addressOf('panel', made.panel.id))
    await paint()
  }

  const begin = (): Promise<boolean> =>
    inTurn(async () => {
      await goTo(await need(api.POST('/api/panels/new')))
      await fetchPanels()
    })

  /** Make a panel of inks as their bands stand, and go there. */
  const ofSet = (
    bands: (Partial<PanelBand> & { ink_id: number })[],
    name: string,
    card: number | null,
  ): Promise<boolean> =>
    inTurn(async () => {
      const body = { name: name.slice(0, 200), card_id: card, bands } as Schemas['PanelOf']
      await goTo(await need(api.POST('/api/panels/of', { body })))
    })

  /** Make a panel of the inks that come nearest to a palette file's colours, and go there. */
  const ofPalette = (file: File): Promise<boolean> =>
    inTurn(async () => {
      const answer = await fetched('/api/panels/of-palette', {
        method: 'POST',
        body: file,
        headers: { 'content-type': 'text/plain' },
      })
      await goTo((await answer.json()) as PanelDesk)
      await fetchPanels()
    })

  const open = (id: number): Promise<boolean> =>
    inTurn(async () => {
      const found = await needOrNull(api.GET('/api/panels/open', { params: { query: { panel: id } } }))
      if (found) await goTo(found)
    })

  const copy = (id: number): Promise<boolean> =>
    inTurn(async () => {
      await goTo(await need(api.POST('/api/panels/{item_id}/copy', { params: { path: { item_id: id } } })))
      await fetchPanels()
    })

  const discard = (id: number): Promise<boolean> =>
    inTurn(async () => {
      panels.value = await need(api.DELETE('/api/panels/{item_id}', { params: { path: { item_id: id } } }))
      await fetchPanel()
    })

  /** A stored panel as it is, with its picture; for looking at beside another. */
  async function peek(id: number): Promise<{ plan: PanelItem; painting: Painting } | null> {
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
      const made = await need(
        api.POST('/api/panels/{item_id}/seams/{seam}/overlap', { params: { path: { item_id: now.id, seam } } }),
      )
      away.value = { panel: now.id, seam, overlap: made.overlap.id }
      await useOverlap().goTo(made)
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
      await router.push(addressOf('panel', from.panel))
      await paint()
    })

  const view = (illuminant: Illuminant): Promise<boolean> =>
    change((now) => ({ ...now, settings: { ...(now.settings ?? { constants: {} }), illuminant } }), 'Change the light')

  watch([wet, zoom, scale], () => void repaint())
  // Back, forward or a typed address: what it names is opened.
  watch(
    () => idIn('panel'),
    (id) => {
      if (id && desk.value && id !== desk.value.panel.id) void inTurn(fetchPanel)
      else if (!id && desk.value) nameInAddress('panel', desk.value.panel.id)
    },
  )

  return {
    desk,
    panel,
    plan,
    held,
    painting,
    study,
    panels,
    picked,
    wet,
    zoom,
    scale,
    unit,
    card,
    inkOf,
    flat,
    loading,
    away,
    load,
    fetchPanel,
    fetchPanels,
    repaint,
    change,
    hold,
    changeBand,
    changeSeam,
    layInk,
    takeOut,
    moveBand,
    bringBack,
    evenOut,
    nudgeBoundary,
    dragBoundary,
    dropDragged,
    fetchFixes,
    fixesOf,
    through,
    begin,
    open,
    copy,
    discard,
    peek,
    ofSet,
    ofPalette,
    seamToOverlap,
    seamBack,
    view,
  }
})

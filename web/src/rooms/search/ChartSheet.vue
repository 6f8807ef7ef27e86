<script setup lang="ts">
/**
 * Every ink over every ink as swatches on the card. Only what is in view is painted;
 * the arrow keys walk from swatch to swatch, and a hidden cell says what lies there.
 */
import { useElementSize } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, watch } from 'vue'

import type { Chart, Study } from './useChart'
import { drawMark, inkOn } from './marks'
import { verdictKindSaid } from '../../generated/words'

const { chart, order, names, hidden, picked, size } = defineProps<{
  chart: Chart
  study: Study | null
  /** Places of the inks in the chart, as they are to stand. */
  order: readonly number[]
  names: readonly string[]
  /** Cells that are filtered out, by place. */
  hidden: Uint8Array
  picked: readonly [number, number] | null
  size: number
}>()
const emit = defineEmits<{ pick: [cell: [number, number]]; open: []; hero: [place: number] }>()

const SIDE = 132
const TOP = 128
const scroller = ref<HTMLElement | null>(null)
const canvas = ref<HTMLCanvasElement | null>(null)
const { width, height } = useElementSize(scroller)
const n = computed(() => chart.head.inks.length)
const placeOf = computed(() => {
  const found = new Int32Array(n.value)
  order.forEach((ink, place) => (found[ink] = place))
  return found
})
const at = computed<[number, number] | null>(
  () => picked && [placeOf.value[picked[0]] ?? 0, placeOf.value[picked[1]] ?? 0],
)
const said = computed(() => {
  if (!picked) return ''
  const [below, above] = picked
  const cell = below * n.value + above
  const what = below === above ? `${names[below]} over itself` : `${names[above]} over ${names[below]}`
  return `${what}: ${verdictKindSaid[chart.head.kinds[chart.kind[cell] ?? 0] ?? 'clean']}, mud ${chart.mud[cell]}`
})

function paint(): void {
  const sheet = canvas.value
  const box = scroller.value
  if (!sheet || !box) return
  const scale = window.devicePixelRatio || 1
  const [w, h] = [box.clientWidth, box.clientHeight]
  if (sheet.width !== Math.round(w * scale) || sheet.height !== Math.round(h * scale)) {
    sheet.width = Math.round(w * scale)
    sheet.height = Math.round(h * scale)
    sheet.style.width = `${w}px`
    sheet.style.height = `${h}px`
  }
  const ctx = sheet.getContext('2d')
  if (!ctx) return
  ctx.setTransform(scale, 0, 0, scale, 0, 0)
  const { head, rgb, kind, mud } = chart
  const [left, top] = [box.scrollLeft, box.scrollTop]
  const card = [1, 3, 5].map((i) => parseInt(head.card.slice(i, i + 2), 16)) as [number, number, number]
  const pencil = inkOn(...card)
  ctx.fillStyle = head.card
  ctx.fillRect(0, 0, w, h)
  const gap = size >= 20 ? 2 : 1
  const columns = [
    Math.max(0, Math.floor(left / size)),
    Math.min(n.value, Math.ceil((left + w - SIDE) / size)),
  ] as const
  const rows = [Math.max(0, Math.floor(top / size)), Math.min(n.value, Math.ceil((top + h - TOP) / size))] as const
  const mark = Math.min(11, size * 0.5)
  ctx.save()
  ctx.beginPath()
  ctx.rect(SIDE, TOP, w - SIDE, h - TOP)
  ctx.clip()
  for (let r = rows[0]; r < rows[1]; r++) {
    const below = order[r] ?? 0
    const y = TOP + r * size - top
    for (let c = columns[0]; c < columns[1]; c++) {
      const above = order[c] ?? 0
      const cell = below * n.value + above
      const x = SIDE + c * size - left
      if (hidden[cell]) {
        ctx.fillStyle = pencil
        ctx.globalAlpha = 0.35
        ctx.fillRect(x + size / 2 - 1, y + size / 2 - 1, 2, 2)
        ctx.globalAlpha = 1
        continue
      }
      const [red, green, blue] = [rgb[3 * cell] ?? 0, rgb[3 * cell + 1] ?? 0, rgb[3 * cell + 2] ?? 0]
      ctx.fillStyle = `rgb(${red} ${green} ${blue})`
      ctx.fillRect(x, y, size - gap, size - gap)
      if (size >= 14 && below !== above) {
        const verdict = head.kinds[kind[cell] ?? 0] ?? 'clean'
        drawMark(
          ctx,
          verdict,
          mud[cell] ?? 0,
          x + (size - gap - mark) / 2,
          y + (size - gap - mark) / 2,
          mark,
          inkOn(red, green, blue),
        )
      }
    }
  }
  if (at.value) {
    const [r, c] = at.value
    const [x, y] = [SIDE + c * size - left, TOP + r * size - top]
    ctx.lineWidth = 3
    ctx.strokeStyle = '#ffffff'
    ctx.strokeRect(x - 2.5, y - 2.5, size - gap + 5, size - gap + 5)
    ctx.lineWidth = 2
    ctx.strokeStyle = '#000000'
    ctx.strokeRect(x - 1, y - 1, size - gap + 2, size - gap + 2)
  }
  ctx.restore()
  // The inks by themselves, with their names, along both edges.
  ctx.fillStyle = pencil
  ctx.font = `500 ${Math.min(14, Math.max(10, size - 4))}px 'Atkinson Hyperlegible Next Variable', sans-serif`
  ctx.textBaseline = 'middle'
  ctx.save()
  ctx.beginPath()
  ctx.rect(0, TOP, SIDE, h - TOP)
  ctx.clip()
  for (let r = rows[0]; r < rows[1]; r++) {
    const ink = order[r] ?? 0
    const y = TOP + r * size - top
    ctx.fillStyle = head.alone[ink] ?? '#888888'
    ctx.fillRect(SIDE - 20, y, 15, size - gap)
    ctx.fillStyle = pencil
    ctx.globalAlpha = at.value && at.value[0] !== r ? 0.85 : 1
    if (size >= 11 || r % 2 === 0) clipped(ctx, names[ink] ?? '', 6, y + size / 2, SIDE - 32)
    ctx.globalAlpha = 1
  }
  ctx.restore()
  ctx.save()
  ctx.beginPath()
  ctx.rect(SIDE, 0, w - SIDE, TOP)
  ctx.clip()
  for (let c = columns[0]; c < columns[1]; c++) {
    const ink = order[c] ?? 0
    const x = SIDE + c * size - left
    ctx.fillStyle = head.alone[ink] ?? '#888888'
    ctx.fillRect(x, TOP - 20, size - gap, 15)
    ctx.fillStyle = pencil
    if (size >= 11 || c % 2 === 0) {
      ctx.save()
      ctx.translate(x + size / 2, TOP - 26)
      ctx.rotate(-Math.PI / 2)
      clipped(ctx, names[ink] ?? '', 0, 0, TOP - 32)
      ctx.restore()
    }
  }
  ctx.restore()
  ctx.fillStyle = pencil
  ctx.font = "italic 400 13px 'Atkinson Hyperlegible Next Variable', sans-serif"
  ctx.fillText('over →', SIDE - 62, TOP - 46)
  ctx.fillText('first ↓', 6, TOP - 12)
}

function clipped(ctx: CanvasRenderingContext2D, text: string, x: number, y: number, room: number): void {
  let shown = text
  while (shown.length > 1 && ctx.measureText(shown).width > room) shown = `${shown.slice(0, -2).trimEnd()}…`
  ctx.fillText(shown, x, y)
}

let waiting = 0
function repaint(): void {
  if (waiting) return
  waiting = requestAnimationFrame(() => {
    waiting = 0
    paint()
  })
}

function find(event: MouseEvent): { row: number; column: number; side: boolean; head: boolean } | null {
  const box = scroller.value
  if (!box) return null
  const frame = box.getBoundingClientRect()
  const [x, y] = [event.clientX - frame.left, event.clientY - frame.top]
  const row = Math.floor((y - TOP + box.scrollTop) / size)
  const column = Math.floor((x - SIDE + box.scrollLeft) / size)
  return { row, column, side: x < SIDE && y >= TOP, head: y < TOP && x >= SIDE }
}
function press(event: MouseEvent): void {
  const hit = find(event)
  if (!hit) return
  if (hit.side && hit.row < n.value) emit('hero', order[hit.row] ?? 0)
  else if (hit.head && hit.column < n.value) emit('hero', order[hit.column] ?? 0)
  else if (hit.row >= 0 && hit.row < n.value && hit.column >= 0 && hit.column < n.value) {
    const same = at.value && at.value[0] === hit.row && at.value[1] === hit.column
    if (same) emit('open')
    else emit('pick', [order[hit.row] ?? 0, order[hit.column] ?? 0])
  }
}
function walk(event: KeyboardEvent): void {
  const by = {
    ArrowRight: [0, 1],
    ArrowLeft: [0, -1],
    ArrowDown: [1, 0],
    ArrowUp: [-1, 0],
    Home: [0, -999],
    End: [0, 999],
  }[event.key]
  if (event.key === 'Enter' && picked) {
    event.preventDefault()
    emit('open')
  }
  if (!by || !n.value) return
  event.preventDefault()
  const [r, c] = at.value ?? [0, -1]
  const clamp = (value: number): number => Math.min(n.value - 1, Math.max(0, value))
  const next = [clamp(r + (by[0] ?? 0)), clamp(c + (by[1] ?? 0))] as const
  emit('pick', [order[next[0]] ?? 0, order[next[1]] ?? 0])
}
/** Bring the picked swatch into view. */
async function follow(): Promise<void> {
  await nextTick()
  const box = scroller.value
  if (!box || !at.value) return
  const [r, c] = at.value
  const [x, y] = [c * size, r * size]
  const [w, h] = [box.clientWidth - SIDE, box.clientHeight - TOP]
  if (x < box.scrollLeft) box.scrollLeft = x
  else if (x + size > box.scrollLeft + w) box.scrollLeft = x + size - w
  if (y < box.scrollTop) box.scrollTop = y
  else if (y + size > box.scrollTop + h) box.scrollTop = y + size - h
}

watch(() => [chart, order, names, hidden, size, width.value, height.value], repaint, { flush: 'post' })
watch(
  () => picked,
  () => {
    void follow()
    repaint()
  },
)
onMounted(() => {
  repaint()
  void document.fonts.ready.then(repaint)
})
</script>

<template>
  <div
    ref="scroller"
    class="chart"
    role="grid"
    tabindex="0"
    :aria-rowcount="n"
    :aria-colcount="n"
    :aria-label="`Chart of ${n} inks: rows are laid first, columns over them`"
    :aria-activedescendant="at ? 'chart-cell' : undefined"
    @scroll.passive="repaint"
    @click="press"
    @keydown="walk"
  >
    <canvas ref="canvas" aria-hidden="true"></canvas>
    <div class="room" :style="{ width: `${SIDE + n * size}px`, height: `${TOP + n * size}px` }"></div>
    <div v-if="at" class="for-readers unseen" role="row" :aria-rowindex="at[0] + 1">
      <span id="chart-cell" role="gridcell" :aria-colindex="at[1] + 1" aria-selected="true">{{ said }}</span>
    </div>
  </div>
</template>

<style scoped>
.chart {
  position: relative;
  height: 100%;
  overflow: auto;
  background: var(--table);
  cursor: pointer;
}
.chart:focus-visible {
  outline: 3px solid var(--focus);
  outline-offset: 2px;
}
canvas {
  position: sticky;
  top: 0;
  left: 0;
  display: block;
}
.room {
  position: absolute;
  top: 0;
  left: 0;
  pointer-events: none;
}
</style>

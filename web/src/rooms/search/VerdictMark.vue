<script setup lang="ts">
/** The verdict's mark on a swatch as a picture of its own: the same shapes as on the chart. */
import { onMounted, ref, watch } from 'vue'

import type { VerdictKind } from '../../generated/words'
import { drawMark } from './marks'

const {
  kind,
  mud = 60,
  colour = '#111111',
  size = 14,
} = defineProps<{ kind: VerdictKind; mud?: number; colour?: string; size?: number }>()
const canvas = ref<HTMLCanvasElement | null>(null)

function paint(): void {
  const ctx = canvas.value?.getContext('2d')
  if (!ctx || !canvas.value) return
  const scale = window.devicePixelRatio || 1
  canvas.value.width = size * scale
  canvas.value.height = size * scale
  ctx.setTransform(scale, 0, 0, scale, 0, 0)
  ctx.clearRect(0, 0, size, size)
  drawMark(ctx, kind, mud, 1, 1, size - 2, colour)
}
onMounted(paint)
watch(() => [kind, mud, colour, size], paint, { flush: 'post' })
</script>

<template>
  <canvas ref="canvas" aria-hidden="true" :style="{ width: `${size}px`, height: `${size}px` }"></canvas>
</template>

<script setup lang="ts">
/** A painted panel, or the part of it that is shown, on a canvas. */
import { onMounted, ref, watch } from 'vue'

import type { Painting } from './usePanel'

const { painting } = defineProps<{ painting: Painting }>()
const emit = defineEmits<{ painted: [] }>()
const canvas = ref<HTMLCanvasElement | null>(null)

function paint(): void {
  const target = canvas.value
  const ctx = target?.getContext('2d', { alpha: false })
  const { rows, columns } = painting.study
  if (!target || !ctx || !rows || !columns) return
  target.width = columns
  target.height = rows
  const image = ctx.createImageData(columns, rows)
  const [from, to] = [painting.pixels, image.data]
  for (let k = 0, n = 0; k < from.length; k += 3, n += 4) {
    to[n] = from[k] ?? 0
    to[n + 1] = from[k + 1] ?? 0
    to[n + 2] = from[k + 2] ?? 0
    to[n + 3] = 255
  }
  ctx.putImageData(image, 0, 0)
  target.dataset.painted = String(Number(target.dataset.painted ?? 0) + 1)
  emit('painted')
}
onMounted(paint)
watch(() => painting, paint, { flush: 'post' })
</script>

<template>
  <canvas ref="canvas" role="img" aria-label="The panel as it will look"></canvas>
</template>

<style scoped>
canvas {
  display: block;
  width: 100%;
  height: 100%;
  image-rendering: auto;
}
</style>

<script setup lang="ts">
/** A colour picked off a photo: press the spot and what ought to be white; the service reads the one against the other. */
import { ref, shallowRef, watch } from 'vue'

import { useNewest } from '@/shared/newest'
import { api, need, Refused, sendFile, type GivenColour, type Photo, type Reading } from '@/shared/api'
import SheetDialog from '@/shared/SheetDialog.vue'

const emit = defineEmits<{ picked: [colour: GivenColour, hex: string]; close: [] }>()

type Spot = 'colour' | 'white'
type Place = { x: number; y: number }
const photo = shallowRef<Photo | null>(null)
const found = shallowRef<Reading | null>(null)
const bad = ref('')
const pressing = ref<Spot>('colour')
/** Places on the photo, as shares of its sides. */
const spots = ref<Record<Spot, Place | null>>({ colour: null, white: null })
const said: Record<Spot, string> = { colour: 'Press the colour', white: 'Press what ought to be white' }

async function told(work: () => Promise<void>): Promise<void> {
  bad.value = ''
  try {
    await work()
  } catch (error) {
    if (!(error instanceof Refused)) throw error
    bad.value = error.message
  }
}
async function load(event: Event): Promise<void> {
  const [file] = (event.target as HTMLInputElement).files ?? []
  if (!file) return
  photo.value = null
  found.value = null
  spots.value = { colour: null, white: null }
  pressing.value = 'colour'
  await told(async () => {
    photo.value = await sendFile<Photo>('/api/photos', file)
  })
}
/** A square of a hundredth of the photo's width about a place, in pixels, inside the photo. */
function box(at: Place): number[] {
  const { width, height } = photo.value ?? { width: 1, height: 1 }
  const half = Math.max(3, width / 100)
  const inside = (v: number, most: number): number => Math.min(Math.max(v, half), most - half)
  const [x, y] = [inside(at.x * width, width), inside(at.y * height, height)]
  return [x - half, y - half, x + half, y + half]
}
const read = useNewest(
  async () => {
    const { colour, white } = spots.value
    if (!photo.value || !colour || !white) return null
    const body = {
      swatches: [{ box: box(colour), formula: 'unknown' as const }],
      whites: [box(white)],
      lamp: null,
      phone: '',
    }
    return need(api.POST('/api/photos/{photo}/read', { params: { path: { photo: photo.value.photo } }, body }))
  },
  (got) => (found.value = got?.readings[0] ?? null),
)
watch(
  spots,
  () => {
    found.value = null
    void told(read)
  },
  { deep: true },
)
function put(at: Place): void {
  spots.value[pressing.value] = at
}
function press(event: MouseEvent): void {
  const frame = (event.currentTarget as HTMLElement).getBoundingClientRect()
  put({ x: (event.clientX - frame.left) / frame.width, y: (event.clientY - frame.top) / frame.height })
  if (pressing.value === 'colour' && !spots.value.white) pressing.value = 'white'
}
function walk(event: KeyboardEvent): void {
  const by = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowDown: [0, 1], ArrowUp: [0, -1] }[event.key]
  if (!by) return
  event.preventDefault()
  const step = event.shiftKey ? 0.05 : 0.01
  const now = spots.value[pressing.value] ?? { x: 0.5, y: 0.5 }
  const inside = (v: number): number => Math.min(1, Math.max(0, v))
  put({ x: inside(now.x + (by[0] ?? 0) * step), y: inside(now.y + (by[1] ?? 0) * step) })
}
</script>

<template>
  <SheetDialog title="A colour off a photo" @close="emit('close')">
    <div class="tools">
      <label class="pick-file"
        >Choose a photo<input type="file" accept="image/jpeg,image/png,image/heic,.heic,.heif,.dng" @change="load"
      /></label>
      <template v-if="photo">
        <button
          v-for="spot in ['colour', 'white'] as const"
          :key="spot"
          type="button"
          class="word"
          :aria-pressed="pressing === spot"
          @click="pressing = spot"
        >
          {{ said[spot] }}
        </button>
      </template>
      <template v-if="found">
        <span class="found" :style="{ backgroundColor: found.hex }"></span>
        <span role="status"
          ><b>{{ found.hex }}</b
          >, {{ found.words }}, {{ found.sure }}</span
        >
        <button type="button" class="word take" @click="emit('picked', found.colour as GivenColour, found.hex)">
          Take this colour
        </button>
      </template>
    </div>
    <p v-if="bad" role="alert">{{ bad }}</p>
    <p>
      The colour is read against a piece of white card in the same light. A camera's colour is rough; trust a swatch
      more.
    </p>
    <div
      v-if="photo"
      class="photo"
      role="group"
      tabindex="0"
      aria-label="The photo: arrow keys move the spot"
      @click="press"
      @keydown="walk"
    >
      <img :src="`/api/photos/${photo.photo}`" alt="" />
      <template v-for="(at, spot) in spots" :key="spot">
        <span v-if="at" class="spot" :class="spot" :style="{ left: `${at.x * 100}%`, top: `${at.y * 100}%` }"></span>
      </template>
    </div>
  </SheetDialog>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
.word {
  border-color: var(--line);
}
.word[aria-pressed='true'],
.take {
  background: var(--strong);
  color: var(--on-strong);
}
.found {
  width: 60px;
  height: 44px;
}
.photo {
  position: relative;
  width: fit-content;
  cursor: crosshair;
}
img {
  display: block;
  max-width: 100%;
  max-height: 500px;
}
.spot {
  position: absolute;
  width: 18px;
  height: 18px;
  margin: -9px;
  border: 2px solid #fff;
  outline: 2px solid #000;
  border-radius: 50%;
  pointer-events: none;
}
.spot.white {
  border-radius: 0;
}
</style>

<script setup lang="ts">
/** A photo of a panel that is still wet: its corners and bare card are pointed at, and beside it stands how it dries. */
import { ElSelect } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'

import { api, fetched, need, sendFile, type Photo, type WetPhoto } from '@/shared/api'
import SheetDialog from '@/shared/SheetDialog.vue'
import { choices } from '@/shared/choices'
import { useStash } from '../stash/useStash'
import { type Illuminant, illuminantSaid, illuminantWords } from '../../generated/words'

const { panelId, name } = defineProps<{ panelId: number; name: string }>()
const emit = defineEmits<{ close: [] }>()

/** Half the side of the spot of bare card that is read, of the photo's width. */
const SPOT = 0.012
const ASKED = [
  'the top left corner of the panel',
  'its top right corner',
  'its bottom right corner',
  'its bottom left corner',
  'bare card of the same kind beside it',
] as const
const { attempt } = useStash()
const photo = shallowRef<Photo | null>(null)
const points = ref<number[][]>([])
const lamp = ref<Illuminant>('D65')
const told = shallowRef<WetPhoto | null>(null)
const reading = ref(false)
const lamps = choices(illuminantWords, illuminantSaid)
const asked = computed(() => ASKED[points.value.length])

async function take(event: Event): Promise<void> {
  const file = event.target instanceof HTMLInputElement ? event.target.files?.[0] : null
  if (!file) return
  await attempt(async () => {
    photo.value = await sendFile<Photo>('/api/photos', file)
    points.value = []
    told.value = null
  })
}
async function simulate(): Promise<void> {
  reading.value = true
  await attempt(async () => {
    const taken = await need(api.POST('/api/devices/wet-panel/{panel_id}', { params: { path: { panel_id: panelId } } }))
    photo.value = taken.photo
    const [left = 0, top = 0, right = 0, bottom = 0] = taken.bare
    points.value = [...taken.corners, [(left + right) / 2, (top + bottom) / 2]]
  })
  reading.value = false
  await read()
}
function point(event: MouseEvent): void {
  const image = event.currentTarget
  if (!(image instanceof HTMLElement) || !photo.value || points.value.length >= ASKED.length) return
  const box = image.getBoundingClientRect()
  points.value = [
    ...points.value,
    [
      ((event.clientX - box.left) / box.width) * photo.value.width,
      ((event.clientY - box.top) / box.height) * photo.value.height,
    ],
  ]
  if (points.value.length === ASKED.length) void read()
}
async function read(): Promise<void> {
  const [a, b, c, d, bare] = points.value
  const now = photo.value
  if (!now || !a || !b || !c || !d || !bare) return
  reading.value = true
  const half = SPOT * now.width
  const spot = [(bare[0] ?? 0) - half, (bare[1] ?? 0) - half, (bare[0] ?? 0) + half, (bare[1] ?? 0) + half]
  await attempt(async () => {
    const response = await fetched('/api/table/wet-photo', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        panel_id: panelId,
        photo: now.photo,
        corners: [a, b, c, d],
        bare: spot,
        lamp: lamp.value,
      }),
    })
    told.value = (await response.json()) as WetPhoto
  })
  reading.value = false
}
function again(): void {
  points.value = []
  told.value = null
}
</script>

<template>
  <SheetDialog :title="`${name}, wet`" @close="emit('close')">
    <div class="wet">
      <div class="from">
        <label class="word framed file"
          >Choose a photo<input type="file" accept="image/jpeg,image/png,image/heic,.dng" @change="take"
        /></label>
        <button type="button" class="word framed" :disabled="reading" @click="simulate">Simulated camera</button>
        <label class="lamp"
          ><span>Light of the photo</span
          ><ElSelect v-model="lamp" :options="lamps" aria-label="Light of the photo" @change="read"
        /></label>
        <button v-if="points.length" type="button" class="word framed" @click="again">Point anew</button>
      </div>
      <p v-if="reading" role="status">Looking at it …</p>
      <p v-else-if="!photo" class="soft">
        Photograph the wet panel from above, with some bare card of the same kind beside it. While it is wet it looks
        deeper and blotchy; here you see how it will dry.
      </p>
      <p v-else-if="asked" role="status">
        Point at <b>{{ asked }}</b>.
      </p>
      <div class="side">
        <div v-if="photo" class="shot" @click="point">
          <img :src="`/api/photos/${photo.photo}`" :alt="`Photo of ${name}`" />
          <svg :viewBox="`0 0 ${photo.width} ${photo.height}`" aria-hidden="true">
            <polygon
              v-if="points.length >= 4"
              :points="
                points
                  .slice(0, 4)
                  .map((each) => each.join(','))
                  .join(' ')
              "
              class="outline"
            />
            <circle
              v-for="(each, n) in points"
              :key="n"
              :cx="each[0]"
              :cy="each[1]"
              :r="photo.width / 110"
              class="dot"
            />
          </svg>
        </div>
        <template v-if="told">
          <figure>
            <img :src="told.wet" alt="The panel as it is photographed, wet" />
            <figcaption>as it is, wet</figcaption>
          </figure>
          <figure>
            <img :src="told.dry" alt="The panel as it will look when dry" />
            <figcaption>as it will dry</figcaption>
          </figure>
        </template>
      </div>
      <p v-for="note in told?.notes ?? []" :key="note.text" class="soft">{{ note.text }}</p>
    </div>
  </SheetDialog>
</template>

<style scoped>
.from {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 12px;
}
.file {
  display: inline-grid;
  align-content: center;
}
.file input {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}
.file:focus-within {
  outline: 3px solid var(--focus);
}
.lamp {
  width: 210px;
}
.lamp span {
  display: block;
  font-size: 14px;
  color: var(--text-soft);
}
.lamp :deep(.el-select__wrapper) {
  min-height: 42px;
  font-size: 16px;
}
.side {
  display: grid;
  grid-template-columns: minmax(0, 1.1fr) repeat(2, minmax(0, 0.9fr));
  gap: 16px;
  margin-top: 12px;
}
.shot {
  position: relative;
  align-self: start;
  cursor: crosshair;
}
.shot img,
figure img {
  display: block;
  width: 100%;
  max-height: 66vh;
  object-fit: contain;
  object-position: left top;
}
.shot img {
  max-height: none;
}
.shot svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.outline {
  fill: none;
  stroke: #000;
  stroke-width: 6;
  stroke-dasharray: 18 12;
}
.dot {
  fill: #fff;
  stroke: #000;
  stroke-width: 5;
}
figure {
  margin: 0;
}
figcaption {
  padding-top: 4px;
  font-size: 18px;
}
.soft {
  max-width: 70ch;
  color: var(--text-soft);
}
@media (max-width: 820px) {
  .side {
    grid-template-columns: 1fr;
  }
}
</style>

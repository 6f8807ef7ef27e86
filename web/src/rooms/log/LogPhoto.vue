<script setup lang="ts">
/** A photo of swatches of the book: the printed sheet is found by itself, else white and swatches are clicked. */
import { ElButton, ElSelect } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'

import { api, need, sendFile, type Marked, type Photo, type ReadOut, type Swatch } from '@/shared/api'
import { useNewest } from '@/shared/newest'
import SheetDialog from '@/shared/SheetDialog.vue'
import { useStash } from '../stash/useStash'
import { useLog } from './useLog'
import { type Illuminant, illuminantSaid } from '../../generated/words'

const { swatches } = defineProps<{ swatches: readonly Swatch[] }>()
const emit = defineEmits<{ close: [] }>()
const { attempt } = useStash()
const { fetchBook, openSwatch, open } = useLog()

type Box = [number, number, number, number]
const photo = shallowRef<Photo | null>(null)
const marked = shallowRef<Marked | null>(null)
const white = ref<Box | null>(null)
const clicked = ref<Box[]>([])
const found = shallowRef<ReadOut | null>(null)
const lamp = ref<Illuminant | 'auto'>('auto')
const look = ref<'dry' | 'wet' | 'drops' | 'before'>('dry')
/** Which swatch each reading is of. */
const whose = ref<number[]>([])

const lampChoices = [
  { value: 'auto', label: 'as the photo says' },
  { value: 'D65', label: illuminantSaid['D65'] },
  { value: 'A', label: illuminantSaid['A'] },
  { value: 'LED-B3', label: illuminantSaid['LED-B3'] },
]
const treated = computed(() => swatches.some((each) => each.item.stack.at(-1)?.treatment))
const lookChoices = computed(() => [
  { value: 'dry', label: 'dry, as it is finished' },
  { value: 'wet', label: 'while still wet' },
  ...(treated.value ? [{ value: 'before', label: 'before the last treatment' }] : []),
  { value: 'drops', label: 'where water was dropped' },
])
const boxes = computed(() => (marked.value ? marked.value.swatches.map((box) => box as Box) : clicked.value))
const shown = computed(() =>
  (found.value?.readings ?? []).map((reading, n) => ({ reading, n })).filter(({ reading }) => !reading.bare),
)
const swatchChoices = computed(() => [
  { value: 0, label: 'none of these' },
  ...swatches.map((each) => ({ value: each.id, label: each.item.name })),
])
const side = computed(() => Math.max(10, Math.round((photo.value?.width ?? 600) / 34)))

const begin = (got: Photo): Promise<boolean> =>
  attempt(async () => {
    photo.value = got
    marked.value = null
    found.value = null
    clicked.value = []
    white.value = null
    if (!got.page || !got.corners) return
    marked.value = await need(
      api.POST('/api/photos/{photo}/mark', {
        params: { path: { photo: got.photo } },
        body: { corners: got.corners as never, page: got.page, large: got.large, strip: false },
      }),
    )
    await read()
  })
async function load(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) await attempt(async () => void (await begin(await sendFile<Photo>('/api/photos', file))))
}
const simulate = (): Promise<boolean> =>
  attempt(async () => {
    await begin(
      await need(api.POST('/api/devices/hand', { params: { query: { swatch: swatches.map((each) => each.id) } } })),
    )
  })

const fetchReadings = useNewest(
  (id: string, body: object) =>
    need(api.POST('/api/photos/{photo}/read', { params: { path: { photo: id } }, body: body as never })),
  (told) => {
    found.value = told
    // Squares of a sheet stand in the order in which the swatches were printed.
    const inked = told.readings.flatMap((reading, n) => (reading.bare ? [] : [n]))
    whose.value = told.readings.map((_, n) => swatches[inked.indexOf(n)]?.id ?? 0)
  },
)
async function read(): Promise<void> {
  const now = photo.value
  if (!now || !boxes.value.length || (!marked.value && !white.value)) return
  const body = {
    swatches: boxes.value.map((box) => ({ box: [...box] })),
    whites: marked.value ? marked.value.whites : [[...(white.value ?? [])]],
    dark: marked.value?.dark ?? null,
    steps: marked.value?.steps ?? [],
    lamp: lamp.value === 'auto' ? null : lamp.value,
  }
  await fetchReadings(now.photo, body)
}
function click(event: MouseEvent): void {
  if (marked.value || !photo.value) return
  const frame = (event.currentTarget as Element).getBoundingClientRect()
  const x = ((event.clientX - frame.left) / frame.width) * photo.value.width
  const y = ((event.clientY - frame.top) / frame.height) * photo.value.height
  const box: Box = [x - side.value, y - side.value, x + side.value, y + side.value]
  if (!white.value) white.value = box
  else clicked.value = [...clicked.value, box]
  void attempt(read)
}

const keep = (): Promise<boolean> =>
  attempt(async () => {
    const now = photo.value
    const readings = found.value?.readings ?? []
    if (!now || !found.value) return
    const areas = readings.flatMap((reading, n) => {
      const id = whose.value[n]
      const swatch = swatches.find((each) => each.id === id)
      if (!id || !swatch) return []
      const before = look.value === 'before' ? { done: Math.max(1, swatch.item.stack.length - 1) } : {}
      return [
        {
          swatch_id: id,
          lab: reading.lab,
          spread: Math.max(0.1, reading.spread),
          box: [...(boxes.value[n] ?? [])],
          look: look.value === 'wet' ? ('wet' as const) : ('dry' as const),
          drops: look.value === 'drops',
          ...before,
        },
      ]
    })
    await need(api.POST('/api/log/seen', { body: { photo: now.photo, light: found.value.lamp, areas } }))
    await fetchBook()
    if (open.value) await openSwatch(open.value.id)
    emit('close')
  })
</script>

<template>
  <SheetDialog title="Off a photo, into the book" @close="emit('close')">
    <div class="work">
      <div class="left">
        <div class="sources">
          <label class="word framed file"
            >A photo …<input
              type="file"
              accept="image/jpeg,image/png,image/heic,.dng"
              aria-label="Photo of the swatches"
              @change="load"
          /></label>
          <button type="button" class="word framed" @click="simulate">
            Let the simulated hand lay and photograph them
          </button>
        </div>
        <div v-if="photo" class="photo" :style="{ aspectRatio: `${photo.width} / ${photo.height}` }" @click="click">
          <img :src="`/api/photos/${photo.photo}`" alt="The photo" />
          <svg :viewBox="`0 0 ${photo.width} ${photo.height}`" aria-hidden="true">
            <rect
              v-if="white"
              :x="white[0]"
              :y="white[1]"
              :width="white[2] - white[0]"
              :height="white[3] - white[1]"
              class="white"
            />
            <template v-for="(box, n) in boxes" :key="n">
              <g v-if="!found || !found.readings[n]?.bare">
                <rect :x="box[0]" :y="box[1]" :width="box[2] - box[0]" :height="box[3] - box[1]" class="box" />
                <text :x="(box[0] + box[2]) / 2" :y="(box[1] + box[3]) / 2" :font-size="side * 1.2">{{ n + 1 }}</text>
              </g>
            </template>
          </svg>
        </div>
        <p v-else class="say">
          Photograph them by daylight from straight above, with bare card of the same sheet in the picture.
        </p>
      </div>
      <div class="right">
        <div class="pair">
          <label
            >They are
            <ElSelect v-model="look" :options="lookChoices" :teleported="false" aria-label="How they look on the photo"
          /></label>
          <label
            >Light
            <ElSelect
              v-model="lamp"
              :options="lampChoices"
              :teleported="false"
              aria-label="Light of the photo"
              @change="attempt(read)"
          /></label>
        </div>
        <p v-if="photo && !marked && !white" class="say">
          No printed sheet is seen. Click bare white card first, then each swatch.
        </p>
        <p v-else-if="photo && !marked && !clicked.length" class="say">Now click each swatch.</p>
        <p v-for="note in [...(photo?.notes ?? []), ...(found?.notes ?? [])]" :key="note.text" class="note">
          {{ note.text }}
        </p>
        <ol class="readings">
          <li v-for="{ reading, n } in shown" :key="n">
            <span class="seen" :style="{ backgroundColor: reading.hex }"></span>
            <span>{{ n + 1 }}. {{ reading.words }}, {{ reading.sure }}</span>
            <ElSelect
              v-model="whose[n]"
              :options="swatchChoices"
              filterable
              :teleported="false"
              :aria-label="`Swatch of reading ${n + 1}`"
            />
          </li>
        </ol>
        <p v-if="found && !shown.length" class="say">Every square on it is bare: lay them first.</p>
        <ElButton v-if="shown.length" type="primary" size="large" :disabled="!whose.some((id) => id)" @click="keep"
          >Put {{ whose.filter((id) => id).length }} into the book</ElButton
        >
      </div>
    </div>
  </SheetDialog>
</template>

<style scoped>
.work {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 18px;
  height: 100%;
}
.left {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
}
.sources {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.file {
  display: grid;
  place-content: center;
  position: relative;
}
.file input {
  position: absolute;
  inset: 0;
  opacity: 0;
  cursor: pointer;
}
.file:focus-within {
  outline: 3px solid var(--focus);
  outline-offset: 2px;
}
.photo {
  position: relative;
  max-height: 100%;
  max-width: 100%;
  cursor: crosshair;
}
.photo img,
.photo svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.box {
  fill: none;
  stroke: #fff;
  stroke-width: 3;
  vector-effect: non-scaling-stroke;
}
.white {
  fill: none;
  stroke: #111;
  stroke-dasharray: 5 4;
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}
text {
  fill: #fff;
  stroke: #111;
  stroke-width: 6;
  paint-order: stroke;
  font-weight: 700;
  text-anchor: middle;
  dominant-baseline: central;
}
.right {
  display: grid;
  align-content: start;
  gap: 10px;
  min-height: 0;
  overflow-y: auto;
  padding: 2px 4px 8px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.pair label {
  display: grid;
  gap: 2px;
  font-size: 15px;
}
.right :deep(.el-select__wrapper) {
  min-height: 42px;
  font-size: 16px;
}
.say {
  margin: 0;
  font-size: 18px;
}
.note {
  margin: 0;
  padding-left: 10px;
  border-left: 3px solid var(--line);
}
.readings {
  display: grid;
  gap: 6px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.readings li {
  display: grid;
  grid-template-columns: 54px minmax(0, 1fr) minmax(150px, 1fr);
  gap: 10px;
  align-items: center;
}
.seen {
  height: 38px;
  border: 4px solid #f8f7f4;
}
@media (max-width: 900px) {
  .work {
    grid-template-columns: 1fr;
  }
}
</style>

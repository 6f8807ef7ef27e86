<script setup lang="ts">
/** Where a photo comes from: a file of one's own, or the simulated camera. */
import { ElButton, ElSelect } from 'element-plus'
import { ref } from 'vue'

import { api, need, sendFile, type Photo } from '@/shared/api'
import FieldRow from './FieldRow.vue'

defineProps<{ busy: boolean }>()
const emit = defineEmits<{ start: [work: () => Promise<Photo>] }>()

const lit = ref<'daylight' | 'warm lamp' | 'led lamp'>('daylight')
const lits = [
  { value: 'daylight', label: 'daylight' },
  { value: 'warm lamp', label: 'a warm lamp' },
  { value: 'led lamp', label: 'an LED lamp' },
]
const camera = ref<'plain camera' | 'phone' | 'old phone'>('plain camera')
const cameras = [
  { value: 'plain camera', label: 'a plain camera' },
  { value: 'phone', label: 'a phone that paints colours up' },
  { value: 'old phone', label: 'an old phone' },
]

function load(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (file) emit('start', () => sendFile<Photo>('/api/photos', file))
  input.value = ''
}

const simulate = (): void =>
  emit('start', () =>
    need(
      api.POST('/api/devices/camera', {
        body: { lamp: lit.value, uneven: 0.25, page: 'a4', phone: camera.value, seed: 1 },
      }),
    ),
  )
</script>

<template>
  <div class="begin">
    <div>
      <h3>A photo of your own</h3>
      <p>
        Swatches on card with bare white card beside them, evenly lit, from straight above. JPEG, PNG, HEIC or DNG, up
        to 25 MB; a raw DNG is the best, for no phone has painted it over.
      </p>
      <label class="pick-file"
        >Choose a photo<input type="file" accept="image/jpeg,image/png,image/heic,.heic,.heif,.dng" @change="load"
      /></label>
      <p class="soft">
        Best on the printed swatch sheet: Wempa finds its squares by itself, and its grey steps tell how the phone bends
        light and dark.
      </p>
      <p class="soft">
        By a window, without a flash, no shadow on the sheet, the sheet filling the photo. Or cut out
        <a href="/api/strip.pdf" download>the grey strip</a> and lay it beside your swatches.
      </p>
    </div>
    <div>
      <h3>The simulated camera</h3>
      <p>It has a sheet of twelve inks before it that are not in the stash.</p>
      <FieldRow plain label="Lit by">
        <ElSelect v-model="lit" :options="lits" :teleported="false" aria-label="Lamp of the simulated camera" />
      </FieldRow>
      <FieldRow plain label="Taken with">
        <ElSelect v-model="camera" :options="cameras" :teleported="false" aria-label="Which simulated camera" />
      </FieldRow>
      <ElButton type="primary" size="large" :loading="busy" @click="simulate">Take the photo</ElButton>
    </div>
  </div>
</template>

<style scoped>
.begin {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 40px;
}
.begin > div {
  display: grid;
  align-content: start;
  justify-items: start;
  gap: 8px;
}
.begin h3,
.begin p {
  margin: 0;
}
.begin :deep(.el-select) {
  width: 320px;
}
.begin a {
  color: inherit;
}
.soft {
  color: var(--text-soft);
}
@media (max-width: 900px) {
  .begin {
    grid-template-columns: 1fr;
  }
}
</style>

<script setup lang="ts">
/** Two panels side by side, at the same scale. */
import { ElSelect } from 'element-plus'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'

import { api, need, type PanelItem } from '@/shared/api'
import { useNewest } from '@/shared/newest'
import { usePanel, type Painting } from './usePanel'
import { length } from '@/shared/units'
import SheetDialog from '@/shared/SheetDialog.vue'
import PanelPicture from './PanelPicture.vue'

const { first } = defineProps<{ first: number | null }>()
const emit = defineEmits<{ close: [] }>()
const { panel, panels, fetchPanels, peek } = usePanel()

interface Side {
  plan: PanelItem
  painting: Painting
}
const other = ref<number | null>(first)
const sides = shallowRef<Side[]>([])
const text = ref<string[]>([])
const choices = computed(() =>
  panels.value.filter((each) => each.id !== panel.value?.id).map((each) => ({ value: each.id, label: each.name })),
)
onMounted(async () => {
  await fetchPanels()
  other.value ??= choices.value[0]?.value ?? null
})
const besides = (own: number, id: number): Promise<string[]> =>
  need(api.GET('/api/panels/{item_id}/beside/{other_id}', { params: { path: { item_id: own, other_id: id } } })).then(
    (answer) => answer.text,
    () => [],
  )
const fetchSides = useNewest(
  (own: number, id: number) => Promise.all([peek(own), peek(id), besides(own, id)]),
  ([one, two, said]) => {
    sides.value = [one, two].filter((each) => each !== null)
    text.value = said
  },
)
watch(
  other,
  (id) => {
    const own = panel.value?.id
    if (id !== null && own !== undefined) void fetchSides(own, id)
  },
  { immediate: true },
)
/** Pixels to a millimetre, so that both stand beside one another. */
const scale = computed(() => {
  const wide = sides.value.reduce((sum, side) => sum + (side.plan.width ?? 0), 0)
  const high = Math.max(1, ...sides.value.map((side) => side.plan.height ?? 0))
  return Math.min(960 / Math.max(1, wide), 420 / high)
})
</script>

<template>
  <SheetDialog title="Side by side" @close="emit('close')">
    <p v-if="!choices.length">There is only one panel yet: copy it, change the copy, and compare the two.</p>
    <p v-else class="choose">
      <span>{{ panel?.name }} beside</span>
      <ElSelect v-model="other" :options="choices" :teleported="false" class="which" aria-label="Compare with" />
    </p>
    <div class="both">
      <figure v-for="side in sides" :key="side.plan.name" :aria-label="side.plan.name">
        <div
          :style="{
            width: `${(side.plan.width ?? 0) * scale}px`,
            height: `${(side.plan.height ?? 0) * scale}px`,
            padding: `${side.plan.frame === 'border' ? (side.plan.frame_width ?? 0) * scale : 0}px`,
            backgroundColor: side.painting.study.card,
          }"
        >
          <PanelPicture v-if="side.painting.study.rows" :painting="side.painting" />
        </div>
        <figcaption>
          <b>{{ side.plan.name }}</b> {{ length(side.plan.width ?? 0, side.plan.unit ?? 'mm') }} ×
          {{ length(side.plan.height ?? 0, side.plan.unit ?? 'mm') }}
        </figcaption>
      </figure>
    </div>
    <ul>
      <li v-for="line in text" :key="line">{{ line }}</li>
    </ul>
  </SheetDialog>
</template>

<style scoped>
.choose {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 0 0 10px;
}
.which {
  width: 300px;
}
.both {
  display: flex;
  gap: 32px;
  align-items: end;
  justify-content: center;
  padding: 14px;
  background: var(--table);
}
figure {
  margin: 0;
}
b {
  font: 600 18px/1.4 var(--colour-names);
}
</style>

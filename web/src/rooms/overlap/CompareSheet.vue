<script setup lang="ts">
/** Two overlaps side by side, as they are now. */
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { ElSelect } from 'element-plus'

import { api, need, type Beside, type Desk } from '@/shared/api'
import { useOverlap } from './useOverlap'
import { entryNames } from '@/shared/names'
import SheetDialog from '@/shared/SheetDialog.vue'
import CrossingCard from './CrossingCard.vue'
import VerdictSlip from './VerdictSlip.vue'

const { first } = defineProps<{ first: number | null }>()
const emit = defineEmits<{ close: [] }>()
const { desk, overlaps, inks, cards, fetchOverlaps, peek } = useOverlap()

const other = ref<number | null>(first)
const shown = shallowRef<Desk | null>(null)
const apart = shallowRef<Beside | null>(null)
const choices = computed(() =>
  overlaps.value
    .filter((each) => each.id !== desk.value?.overlap.id)
    .map((each) => ({ value: each.id, label: each.name })),
)
const sides = computed(() =>
  [desk.value, shown.value].flatMap((each) =>
    each
      ? [
          {
            desk: each,
            names: entryNames(each.overlap.stack, inks.value).filter((_, n) => !each.overlap.stack[n]?.treatment),
            card: cards.value.find((card) => card.id === each.overlap.card_id)?.name ?? 'white card',
          },
        ]
      : [],
  ),
)
onMounted(async () => {
  await fetchOverlaps()
  other.value ??= choices.value[0]?.value ?? null
})
watch(
  other,
  async (id) => {
    const now = desk.value?.overlap.id
    shown.value = id === null ? null : await peek(id)
    apart.value =
      id === null || now === undefined
        ? null
        : await need(
            api.GET('/api/overlaps/{item_id}/beside/{other_id}', { params: { path: { item_id: now, other_id: id } } }),
          )
  },
  { immediate: true },
)
</script>

<template>
  <SheetDialog title="Side by side" @close="emit('close')">
    <p v-if="!choices.length" class="none">
      There is only one overlap yet: copy it, change the copy, and compare the two.
    </p>
    <p v-else class="choose">
      <span>{{ desk?.overlap.name }} beside</span>
      <ElSelect v-model="other" :options="choices" :teleported="false" class="which" aria-label="Compare with" />
      <b v-if="apart">{{ desk?.overlap.name }} is {{ apart.text }} it</b>
    </p>
    <div class="both">
      <section v-for="side in sides" :key="side.desk.overlap.id" :aria-label="side.desk.overlap.name">
        <h3>
          {{ side.desk.overlap.name }} <small>on {{ side.card }}</small>
        </h3>
        <div class="mat">
          <CrossingCard
            :crossing="side.desk.crossing"
            :names="side.names"
            :card-name="side.card"
            :mud-line="side.desk.mud_line"
            :pointed="null"
          />
        </div>
        <VerdictSlip :look="side.desk.crossing.full" :name="side.names.join(', ')" :mud-line="side.desk.mud_line" />
      </section>
    </div>
  </SheetDialog>
</template>

<style scoped>
.choose {
  display: flex;
  align-items: center;
  gap: 10px;
  margin: 0 0 8px;
}
.which {
  width: 320px;
}
.both {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 18px;
}
.mat {
  margin-bottom: 12px;
  padding: 12px;
  background: var(--table);
}
h3 {
  margin: 0 0 6px;
  font: 600 20px/1.2 var(--colour-names);
}
h3 small {
  font: 400 16px/1 var(--body);
}
@media (max-width: 820px) {
  .both {
    grid-template-columns: 1fr;
  }
}
</style>

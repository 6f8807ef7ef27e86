<script setup lang="ts">
/** The overlaps kept: open, copy, compare or discard one, begin another. */
import { onMounted } from 'vue'

import { useOverlap } from './useOverlap'
import KeptSheet from '@/shared/KeptSheet.vue'
import MudGlass from '@/shared/MudGlass.vue'
import { verdictKindSaid } from '../../generated/words'

const { mudLine } = defineProps<{ mudLine: number }>()
const emit = defineEmits<{ close: []; compare: [id: number] }>()
const { overlaps, overlap, fetchOverlaps, open, copy, discard, begin } = useOverlap()

onMounted(fetchOverlaps)

async function go(work: Promise<boolean>): Promise<void> {
  if (await work) emit('close')
}
</script>

<template>
  <KeptSheet
    title="Overlaps"
    kind="overlap"
    :kept="overlaps"
    :now="overlap"
    @close="emit('close')"
    @begin="go(begin())"
    @copy="(id) => go(copy(id))"
    @open="(id) => go(open(id))"
    @compare="(id) => emit('compare', id)"
    @discard="discard"
  >
    <template #picture="{ of }">
      <span class="card" :style="{ backgroundColor: of.card }"><i :style="{ backgroundColor: of.hex }"></i></span>
    </template>
    <template #told="{ of }">
      <p v-if="of.kind !== null && of.mud !== null">
        <MudGlass :mud="of.mud" :line="mudLine" :size="18" /> {{ verdictKindSaid[of.kind] }}, {{ of.words
        }}<template v-if="of.colour_name">: “{{ of.colour_name }}”</template>
      </p>
    </template>
  </KeptSheet>
</template>

<style scoped>
.card {
  padding: 14px 22px;
}
.card i {
  display: block;
  height: 100%;
}
p svg {
  vertical-align: -4px;
}
</style>

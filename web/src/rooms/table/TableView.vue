<script setup lang="ts">
/** The table: an evening planned, gone through step by step, looked at with doubt, and what was done before. */
import { useLocalStorage } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'

import BoardTabs from '@/shared/BoardTabs.vue'
import { useStash } from '../stash/useStash'
import FaultBoard from './FaultBoard.vue'
import PastBoard from './PastBoard.vue'
import PlanBoard from './PlanBoard.vue'
import RunScreen from './RunScreen.vue'
import TabletSheet from './TabletSheet.vue'
import { useTable } from './useTable'

const { attempt } = useStash()
const { table, run, evening, fetchTable } = useTable()

type Board = 'plan' | 'mat' | 'fault' | 'past'
const pairing = ref(false)
const board = useLocalStorage<Board>('wempa-table-board', 'plan')
const boards = computed(() => [
  { value: 'plan' as Board, said: 'The evening' },
  { value: 'mat' as Board, said: run.value && !run.value.ended ? 'At the mat ●' : 'At the mat' },
  { value: 'fault' as Board, said: 'Is this a fault?' },
  { value: 'past' as Board, said: 'Evenings before' },
])

watch(
  () => run.value?.id,
  (id) => id && !run.value?.ended && (board.value = 'mat'),
)
onMounted(async () => {
  await attempt(fetchTable)
  if (run.value && !run.value.ended) board.value = 'mat'
  else if (board.value === 'mat' && !evening.value) board.value = 'plan'
})
</script>

<template>
  <main class="room">
    <div class="top">
      <BoardTabs
        of="table"
        :boards="boards"
        :at="board"
        label="Pages of the table"
        class="tabs"
        @turn="(to) => (board = to)"
      />
      <button type="button" class="word framed" @click="pairing = true">Use a tablet</button>
    </div>
    <PlanBoard v-if="board === 'plan' && table" id="table-board" role="tabpanel" aria-labelledby="table-tab-plan" />
    <RunScreen
      v-else-if="board === 'mat'"
      id="table-board"
      role="tabpanel"
      aria-labelledby="table-tab-mat"
      @plan="board = 'plan'"
      @fault="board = 'fault'"
    />
    <FaultBoard
      v-else-if="board === 'fault' && table"
      id="table-board"
      role="tabpanel"
      aria-labelledby="table-tab-fault"
    />
    <PastBoard v-else-if="table" id="table-board" role="tabpanel" aria-labelledby="table-tab-past" />
    <p
      v-if="!table && board !== 'mat'"
      id="table-board"
      role="tabpanel"
      :aria-labelledby="`table-tab-${board}`"
      aria-busy="true"
    >
      One moment …
    </p>
    <TabletSheet v-if="pairing" @close="pairing = false" />
  </main>
</template>

<style scoped>
.room {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 10px;
  height: 100%;
  min-height: 0;
  padding: 0 14px 10px;
}
.top {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 6px 14px;
}
.tabs {
  width: min(640px, 100%);
}
@media (max-width: 820px) {
  .tabs {
    flex-wrap: wrap;
  }
}
</style>

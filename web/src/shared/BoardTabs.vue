<script setup lang="ts" generic="T extends string">
/** Tabs over a board: one of them is open; arrow keys go from one to the next, the keys staying on the tab. */
const { boards, at, label, of } = defineProps<{
  boards: readonly { value: T; said: string }[]
  /** The one that is open. */
  at: T
  label: string
  /** Whose they are: the board has the id `<of>-board`, its tab `<of>-tab-<value>`. */
  of: string
}>()
const emit = defineEmits<{ turn: [to: T] }>()

function turn(by: number): void {
  const now = boards.findIndex((each) => each.value === at)
  const next = boards[(now + by + boards.length) % boards.length]
  if (!next) return
  emit('turn', next.value)
  document.getElementById(`${of}-tab-${next.value}`)?.focus()
}
</script>

<template>
  <div
    class="boards"
    :class="{ many: boards.length > 3 }"
    role="tablist"
    :aria-label="label"
    @keydown.left.prevent.stop="turn(-1)"
    @keydown.right.prevent.stop="turn(1)"
  >
    <button
      v-for="each in boards"
      :id="`${of}-tab-${each.value}`"
      :key="each.value"
      type="button"
      role="tab"
      :aria-controls="`${of}-board`"
      :aria-selected="at === each.value"
      :tabindex="at === each.value ? 0 : -1"
      @click="emit('turn', each.value)"
    >
      {{ each.said }}
    </button>
  </div>
</template>

<style scoped>
.boards {
  display: flex;
  flex: none;
  border-bottom: 2px solid var(--text);
}
button {
  flex: 1 0 auto;
  min-height: 42px;
  padding: 0 4px;
  border: 0;
  border-radius: 4px 4px 0 0;
  background: none;
  cursor: pointer;
}
button[aria-selected='true'] {
  background: var(--strong);
  color: var(--on-strong);
}
.many button {
  padding: 0 1px;
  font-size: 15px;
}
@media (max-width: 1150px) {
  button {
    font-size: 15px;
  }
  .many {
    flex-wrap: wrap;
  }
  .many button {
    flex-basis: 45%;
  }
}
</style>

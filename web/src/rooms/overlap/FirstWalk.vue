<script setup lang="ts">
/** One step of the first walk: what to do, why, and a way out. */
import { computed } from 'vue'

import { useWalk, WALK } from './useWalk'

const { stage, number, doIt, leave } = useWalk()

const told = computed(() => {
  switch (stage.value) {
    case 'lay':
      return {
        what: `Press ${WALK.lower}, then ${WALK.upper} on the rack.`,
        why: 'They cross on the card: each alone, and one over the other both ways.',
        deed: 'Do it for me',
      }
    case 'read':
      return {
        what: 'Where they cross it goes muddy. Read beside it why.',
        why: 'The glass fills with sediment the muddier it gets.',
        deed: 'I have read it',
      }
    case 'fix':
      return {
        what: 'Under “Fix it” stands what would save it. Press one.',
        why: 'Each was worked out anew; what does not help is not shown. Undo takes it back.',
        deed: 'Press the first for me',
      }
    case 'card':
      return {
        what: `Now lay the same on ${WALK.card}, at the bottom.`,
        why: 'Coloured card mixes its own colour in, so what was clean on white may not be here.',
        deed: 'Do it for me',
      }
    default:
      return {
        what: 'That is all there is to it.',
        why: 'Lay inks of your own, or go on to Chart: it shows all of them over all.',
        deed: '',
      }
  }
})
</script>

<template>
  <aside class="walk" aria-label="First walk" aria-live="polite">
    <p>
      <b v-if="number">{{ number }} of 4.</b> <b>{{ told.what }}</b> <span>{{ told.why }}</span>
    </p>
    <button v-if="told.deed" type="button" class="word framed" @click="doIt">{{ told.deed }}</button>
    <button type="button" class="word framed" @click="leave">
      {{ stage === 'done' ? 'Close' : 'Leave the walk' }}
    </button>
  </aside>
</template>

<style scoped>
.walk {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 4px 6px 4px 12px;
  border-left: 6px solid var(--text);
  background: var(--slip);
}
p {
  flex: 1;
  margin: 0;
  font-size: 16px;
  line-height: 1.25;
}
button {
  flex: none;
}
@media (max-width: 820px) {
  .walk {
    flex-wrap: wrap;
  }
  p {
    flex-basis: 100%;
  }
}
</style>

<script setup lang="ts">
/** What would save the overlap: each fix with its before and after; one press applies it. */
import type { Advice, Fix, Look, StackChange } from '@/shared/api'
import MudGlass from '@/shared/MudGlass.vue'
import { fixCodeSaid, verdictKindSaid } from '../../generated/words'

const { advice, full, mudLine } = defineProps<{ advice: Advice | null; full: Look; mudLine: number }>()
const emit = defineEmits<{ apply: [change: StackChange, what: string] }>()

const said = (fix: Fix): string => {
  const after = fix.shown[0]
  if (!after) return ''
  return fix.shown.length > 1 ? 'the two seams' : `${verdictKindSaid[after.verdict.kind].toLowerCase()}, ${after.words}`
}
</script>

<template>
  <section class="help" aria-label="What would save it">
    <p v-if="!advice" class="quiet" role="status">Looking through the shelf …</p>
    <p v-else-if="!advice.fixes.length" class="quiet">
      {{ full.verdict.mud < 10 ? 'Nothing here needs saving.' : 'Nothing on the shelf makes this cleaner.' }}
    </p>
    <ul v-else>
      <li v-for="fix in advice.fixes" :key="fix.code">
        <div class="pair" aria-hidden="true">
          <i :style="{ backgroundColor: full.colour.hex }"></i>
          <i v-for="(after, n) in fix.shown" :key="n" :style="{ backgroundColor: after.colour.hex }"></i>
          <i v-if="!fix.shown.length" class="none"></i>
        </div>
        <div class="text">
          <b>{{ fixCodeSaid[fix.code] }}</b>
          <p>{{ fix.text }}</p>
          <small v-if="fix.mud !== null"
            ><MudGlass :mud="fix.mud ?? 0" :line="mudLine" :size="16" /> mud {{ Math.round(full.verdict.mud) }} →
            {{ Math.round(fix.mud ?? 0) }}; {{ said(fix) }}</small
          >
        </div>
        <button
          v-if="fix.change"
          type="button"
          :aria-label="`Apply: ${fix.text}`"
          @click="emit('apply', fix.change, fixCodeSaid[fix.code])"
        >
          Apply
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  display: grid;
  gap: 4px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 44px 1fr auto;
  gap: 9px;
  align-items: start;
  padding: 7px 0;
  border-top: 1px solid var(--line-soft);
}
.pair {
  display: flex;
  height: 44px;
  margin-top: 3px;
}
.pair i {
  flex: 1;
}
.none {
  border: 1px dashed var(--line);
}
b {
  font: 600 17px/1.2 var(--colour-names);
}
p {
  margin: 0;
  font-size: 16px;
  line-height: 1.25;
}
small {
  font-size: 14px;
  line-height: 1.25;
  color: var(--text-soft);
}
small svg {
  vertical-align: -3px;
}
.quiet {
  padding: 8px 0;
  color: var(--text-soft);
}
button {
  min-height: 44px;
  padding: 0 10px;
  border: 1px solid var(--text);
  border-radius: 4px;
  background: var(--raised);
  cursor: pointer;
}
</style>

<script setup lang="ts">
/** Seams in turn with what is wrong with them; of the picked one what would save it. */
import { computed, watchEffect } from 'vue'

import type { PanelItem, PanelStudy, SeamFix } from '@/shared/api'
import type { Picked } from './usePanel'
import { length, type Unit } from '@/shared/units'
import { layoutOf } from './geometry'
import MudGlass from '@/shared/MudGlass.vue'
import { fixCodeSaid, verdictKindSaid } from '../../generated/words'

const { plan, study, picked, unit, mudLine, fixesOf } = defineProps<{
  plan: PanelItem
  study: PanelStudy
  picked: Picked
  unit: Unit
  mudLine: number
  fixesOf: (seam: number) => SeamFix[] | null
}>()
const emit = defineEmits<{ pick: [picked: Picked]; apply: [fix: SeamFix]; wanted: [seam: number] }>()

const rows = computed(() =>
  study.seams.map((seam, k) => ({
    ...seam,
    k,
    on: picked.kind === 'seam' && picked.at === k,
    names: seam.pair.map((at) => study.bands[at]?.name ?? ''),
  })),
)
const at = computed(() =>
  picked.kind === 'seam' && (study.seams[picked.at]?.flags.length || study.seams[picked.at]?.chosen) ? picked.at : null,
)
const found = computed(() => (at.value === null ? null : fixesOf(at.value)))
watchEffect(() => at.value !== null && fixesOf(at.value) === null && emit('wanted', at.value))
const bandFlags = computed(() => study.bands.flatMap((band, k) => band.flags.map((flag) => ({ ...flag, k }))))
</script>

<template>
  <section aria-label="Seams">
    <p v-if="layoutOf(plan).overlaid" class="quiet">
      Each ribbon lies over the one before and is darker where they cross; there are no seams to blend.
    </p>
    <p v-else-if="!rows.length" class="quiet">One ink has no seams; add another.</p>
    <ul>
      <li v-for="seam in rows" :key="seam.k" :class="{ on: seam.on }">
        <button
          type="button"
          class="row"
          :aria-pressed="seam.on"
          @click="emit('pick', seam.on ? { kind: 'front' } : { kind: 'seam', at: seam.k })"
        >
          <i :style="{ background: `linear-gradient(to right, ${seam.along.join(', ')})` }"></i>
          <span
            ><b>{{ seam.names[0] }} into {{ seam.names[1] }}</b>
            <small v-if="!seam.flags.length">{{
              seam.overlap ? `${verdictKindSaid[seam.kind].toLowerCase()}, ${seam.words}` : 'apart'
            }}</small>
          </span>
          <MudGlass v-if="seam.mud >= 1" :mud="seam.mud" :line="mudLine" :size="22" />
        </button>
        <p v-for="flag in seam.flags" :key="flag.code" class="flag">{{ flag.text }}</p>
        <p v-if="seam.chosen" class="flag">{{ seam.chosen.text }}</p>
        <p v-if="seam.on" class="numbers">
          {{ seam.softness }}<template v-if="seam.muddy_mm"> · muddy over {{ length(seam.muddy_mm, unit) }}</template>
        </p>
        <details v-if="seam.on" class="numbers">
          <summary>The figures</summary>
          steepest {{ seam.hardest.toFixed(1) }} ΔE00 a millimetre · mud {{ Math.round(seam.mud) }}
        </details>
        <template v-if="seam.on && (seam.flags.length || seam.chosen)">
          <p v-if="!found" class="quiet" role="status">Trying what would save it …</p>
          <p v-else-if="!found.length" class="quiet">Nothing that was tried makes this seam better.</p>
          <div v-for="fix in found ?? []" :key="fix.code" class="fix">
            <div>
              <b>{{ fixCodeSaid[fix.code] }}</b><span class="after" aria-hidden="true"
                ><i v-for="(hex, n) in fix.shown" :key="n" :style="{ backgroundColor: hex }"></i
              ></span>
              <p>{{ fix.text }}</p>
              <small>{{ fix.seam }}</small>
            </div>
            <button type="button" :aria-label="`Apply: ${fix.text}`" @click="emit('apply', fix)">Apply</button>
          </div>
        </template>
      </li>
    </ul>
    <p v-for="flag in bandFlags" :key="flag.k + flag.code" class="note">
      <button type="button" @click="emit('pick', { kind: 'band', at: flag.k })">{{ flag.text }}</button>
    </p>
  </section>
</template>

<style scoped>
ul {
  display: grid;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  padding: 3px 0;
  border-bottom: 1px solid var(--line-soft);
}
li.on {
  border-left: 4px solid var(--text);
  padding-left: 6px;
}
.row {
  display: grid;
  grid-template-columns: 54px 1fr auto;
  gap: 9px;
  align-items: center;
  width: 100%;
  min-height: 40px;
  padding: 0;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
}
.row i {
  height: 26px;
}
b {
  font: 600 16px/1.15 var(--colour-names);
}
small {
  display: block;
  font-size: 14px;
  line-height: 1.2;
  color: var(--text-soft);
}
.flag,
.fix p {
  margin: 2px 0;
  font-size: 15px;
  line-height: 1.25;
}
.numbers {
  margin: 0;
  font-size: 14px;
  color: var(--text-soft);
}
.quiet {
  margin: 4px 0;
  color: var(--text-soft);
  font-size: 16px;
}
.fix {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  align-items: start;
  padding: 6px 0;
  border-top: 1px dashed var(--line-soft);
}
.fix button {
  min-height: 44px;
  padding: 0 10px;
  border: 1px solid var(--text);
  border-radius: 4px;
  background: var(--raised);
  cursor: pointer;
}
.after {
  display: flex;
  height: 12px;
  margin: 2px 0;
}
.after i {
  flex: 1;
}
.note {
  margin: 6px 0 0;
  padding-left: 10px;
  border-left: 3px double var(--text);
}
.note button {
  padding: 0;
  border: 0;
  background: none;
  font-size: 15px;
  line-height: 1.3;
  text-align: left;
  cursor: pointer;
}
</style>

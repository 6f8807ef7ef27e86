<script setup lang="ts">
/** How the panel is made: in which order, how long, what to watch, and how many come from a sheet. */
import { ElSelect } from 'element-plus'
import { computed } from 'vue'

import type { PanelItem, PanelStudy } from '@/shared/api'
import { choices } from '@/shared/choices'
import { ordinal } from '@/shared/names'
import {
  type Hand,
  handSaid,
  handWords,
  type Load,
  loadSaid,
  type School,
  schoolSaid,
  schoolWords,
  type Tool,
  toolSaid,
} from '../../generated/words'
import { length, type Unit } from '@/shared/units'
import { layoutOf } from './geometry'

const { plan, study, unit } = defineProps<{ plan: PanelItem; study: PanelStudy; unit: Unit }>()
const emit = defineEmits<{ hand: [hand: Hand]; school: [school: School] }>()

// The number of a band says where it lies; when it is laid is said in another way.
const steps = computed(() =>
  study.steps.map((step, n) => ({ ...step, turn: ordinal(n), seen: study.bands[step.band] })),
)
const span = (minutes: number): string =>
  minutes < 1 ? `${Math.max(5, Math.round((minutes * 60) / 5) * 5)} s` : `${Math.round(minutes)} min`
const shaped = (band: number): boolean => (plan.bands?.[band]?.shape ?? 'even') !== 'even'
const sheet = computed(() => plan.sheet ?? { width: 210, height: 297, grain: false })
const pieces = computed(() => (study.panels === 1 ? '1 panel' : `${study.panels} panels`))
</script>

<template>
  <section aria-label="How it is made">
    <p v-if="layoutOf(plan).ordered" class="hand">
      Laid
      <ElSelect
        :model-value="plan.school ?? 'lightest_first'"
        :options="choices(schoolWords, schoolSaid)"
        class="which"
        aria-label="Order of laying"
        @update:model-value="(school: School) => emit('school', school)"
      />
    </p>
    <p class="hand">
      With
      <ElSelect
        :model-value="plan.hand ?? 'usual'"
        :options="choices(handWords, handSaid)"
        class="which"
        aria-label="Hand, where the passes are not said"
        @update:model-value="(hand: Hand) => emit('hand', hand)"
      />
    </p>
    <p class="reason">{{ study.reason }}</p>
    <ol>
      <li v-for="step in steps" :key="step.band">
        <p v-if="step.waits >= 0.05" class="wait">Wait {{ span(step.waits) }}.</p>
        <strong>{{ step.turn }}</strong>
        <i :style="{ backgroundColor: step.seen?.hex }"></i>
        <span>
          <b>{{ step.seen?.name }}</b> <em :title="`Band ${step.band + 1}`">{{ step.band + 1 }}</em>
          <small v-if="step.seen?.tool"
            >{{ toolSaid[step.seen.tool as Tool] }}, {{ loadSaid[step.seen.load as Load] }} load, {{ step.passes }}
            {{ step.passes === 1 ? 'pass' : 'passes'
            }}{{
              step.passes > step.seen.passes ? (shaped(step.band) ? ' where it is deepest' : ', each lighter') : ''
            }}; {{ step.loads }} {{ step.loads === 1 ? 'load' : 'loads' }}, {{ span(step.minutes) }}</small
          >
          <small v-if="step.why !== study.reason">{{ step.why }}</small>
        </span>
      </li>
    </ol>
    <p class="sum">About {{ span(study.minutes) }} in all, waiting included.</p>
    <p v-for="note in study.notes" :key="note.text" class="note">{{ note.text }}</p>
    <figure>
      <svg
        :viewBox="`-1 -1 ${sheet.width + 2} ${sheet.height + 2}`"
        role="img"
        :aria-label="`${pieces} cut from a sheet of ${length(sheet.width, unit)} by ${length(sheet.height, unit)}`"
      >
        <rect :width="sheet.width" :height="sheet.height" class="left-over" />
        <rect
          v-for="(piece, n) in study.pieces"
          :key="n"
          :x="piece.left"
          :y="piece.top"
          :width="piece.width"
          :height="piece.height"
          :fill="study.card"
          class="piece"
        />
      </svg>
      <figcaption v-if="!study.panels">
        This panel is larger than the sheet of {{ length(sheet.width, unit) }} × {{ length(sheet.height, unit) }}: take
        a larger one under “Size”.
      </figcaption>
      <figcaption v-else>
        <b>{{ pieces }}</b> from a sheet of {{ length(sheet.width, unit) }} × {{ length(sheet.height, unit) }};
        {{ Math.round(100 * study.waste) }} % is left over<template v-if="study.panels > study.pieces.length"
          >; the first {{ study.pieces.length }} are drawn</template
        ><template v-if="sheet.grain">, all with the grain</template>.
      </figcaption>
    </figure>
    <p class="note" role="note">
      Blades: cut away from the hand. Heat tools burn, and never on ink wet with alcohol or solvent. The maker's label
      comes first.
    </p>
  </section>
</template>

<style scoped>
.reason,
.sum {
  margin: 4px 0;
  font-size: 16px;
  line-height: 1.3;
}
.hand {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 4px 0;
}
.which {
  width: 190px;
}
.which :deep(.el-select__wrapper) {
  min-height: 40px;
  font-size: 16px;
}
ol {
  display: grid;
  gap: 4px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 32px 34px 1fr;
  gap: 8px;
  align-items: center;
}
strong {
  font-weight: 600;
}
em {
  display: inline-grid;
  place-content: center;
  width: 22px;
  height: 22px;
  border: 1px solid var(--line);
  border-radius: 50%;
  background: var(--raised);
  font: 600 14px/1 var(--body);
}
li .wait {
  grid-column: 1 / -1;
  order: -1;
  margin: 2px 0 0;
  padding-left: 40px;
  font-size: 14px;
  line-height: 1.2;
  color: var(--text-soft);
}
i {
  height: 28px;
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
.note {
  margin: 6px 0;
  padding-left: 10px;
  border-left: 3px double var(--text);
  font-size: 15px;
  line-height: 1.3;
}
figure {
  display: grid;
  grid-template-columns: 104px 1fr;
  gap: 10px;
  align-items: center;
  margin: 10px 0;
}
figure svg {
  max-height: 130px;
}
figcaption {
  font-size: 15px;
  line-height: 1.3;
}
.left-over {
  fill: none;
  stroke: var(--line);
  stroke-width: 1.5;
}
.piece {
  stroke: #555555;
  stroke-width: 1;
}
</style>

<script setup lang="ts">
/** What is picked and what can be done to it: a band, a seam, or the whole front. */
import { ElCheckbox, ElInputNumber, ElSelect } from 'element-plus'
import { computed } from 'vue'

import NumberBox from '@/shared/NumberBox.vue'
import type { PanelBand, PanelItem, PanelSeam, PanelStudy } from '@/shared/api'
import type { Picked } from './usePanel'
import {
  type BandShape,
  bandShapeSaid,
  bandShapeWords,
  edgeSaid,
  edgeWords,
  type Layout,
  layoutSaid,
  layoutWords,
  type Load,
  loadSaid,
  loadWords,
  MAX_PASSES,
  type Tool,
  toolSaid,
  toolWords,
  type Upper,
} from '../../generated/words'
import type { Unit } from '@/shared/units'
import { choices } from '@/shared/choices'
import LengthInput from './LengthInput.vue'
import SoftMeasure from './SoftMeasure.vue'
import { layoutGlyphs, layoutOf } from './geometry'

const { plan, study, picked, unit } = defineProps<{
  plan: PanelItem
  study: PanelStudy
  picked: Picked
  unit: Unit
}>()
const emit = defineEmits<{
  band: [edit: Partial<PanelBand>, what: string]
  seam: [edit: Partial<PanelSeam>, what: string]
  front: [edit: Partial<PanelItem>, what: string]
  move: [by: number]
  out: []
  back: []
  even: []
  overlap: []
  match: []
}>()

const band = computed(() => (picked.kind === 'band' ? plan.bands?.[picked.at] : undefined))
const bandSeen = computed(() => (picked.kind === 'band' ? study.bands[picked.at] : undefined))
const seam = computed(
  () => (picked.kind === 'seam' ? (plan.seams?.[picked.at] ?? {}) : undefined) as PanelSeam | undefined,
)
const seamSeen = computed(() => (picked.kind === 'seam' ? study.seams[picked.at] : undefined))
const held = computed(() => band.value?.width !== null && band.value?.width !== undefined)
const names = computed(() => (seamSeen.value?.pair ?? []).map((k) => study.bands[k]?.name ?? ''))
const uppers = computed(() => [
  { value: 'order' as Upper, label: 'as the order has it' },
  { value: 'first' as Upper, label: `${names.value[0]} on top` },
  { value: 'second' as Upper, label: `${names.value[1]} on top` },
])
const joins = computed(() => [
  { value: true, label: 'worked at once' },
  { value: false, label: 'dry between' },
])
const widths = computed(() => (bandSeen.value ? bandSeen.value.end - bandSeen.value.begin : 0))
const ribbon = computed(() => plan.ribbon ?? { edge: 'torn' as const, lean: 0, carry: false })
const lies = computed(() => layoutOf(plan))
const free = computed(() => bandSeen.value !== undefined && lies.value.ordered)
</script>

<template>
  <section v-if="band && bandSeen" class="slip" :aria-label="`Band: ${bandSeen.name}`">
    <p class="what" :title="bandSeen.words">
      <b>{{ bandSeen.name }}</b>
    </p>
    <label
      ><LengthInput
        :mm="held ? band.width : null"
        :auto="widths"
        :unit="unit"
        aria-label="Visible width"
        @typed="(mm) => emit('band', { width: mm }, 'Hold a width')"
      />
      wide</label
    >
    <ElCheckbox
      :model-value="held"
      label="hold it"
      @change="
        emit('band', { width: held ? null : Math.round(widths * 100) / 100 }, held ? 'Let a width go' : 'Hold a width')
      "
    />
    <label v-if="!held" title="Its width against that of the others"
      >share
      <ElInputNumber
        :model-value="band.weight ?? undefined"
        :min="0.1"
        :max="20"
        :step="0.5"
        :precision="1"
        :placeholder="bandSeen.widened ? 'wider' : '1'"
        aria-label="Share of the width"
        class="count"
        @change="(weight: number | undefined) => emit('band', { weight: weight ?? null }, 'Change a share')"
    /></label>
    <span class="acts">
      <button
        type="button"
        class="word"
        title="Alt ←"
        aria-label="Change places with the band before"
        @click="emit('move', -1)"
      >
        ◂
      </button>
      <button
        type="button"
        class="word"
        title="Alt →"
        aria-label="Change places with the band after"
        @click="emit('move', 1)"
      >
        ▸
      </button>
      <button type="button" class="word" title="Delete" @click="emit('out')">Take out</button>
    </span>
    <template v-if="!lies.rolled && !band.dose">
      <ElSelect
        :model-value="(band.tool ?? bandSeen.tool) as Tool"
        :options="choices(toolWords, toolSaid)"
        class="tool"
        aria-label="Tool"
        @update:model-value="(tool: Tool) => emit('band', { tool, passes: null }, 'Change the tool')"
      />
      <ElSelect
        :model-value="(band.load ?? bandSeen.load) as Load"
        :options="choices(loadWords, loadSaid)"
        class="load"
        aria-label="Load"
        @update:model-value="(load: Load) => emit('band', { load }, 'Change the load')"
      />
      <label
        ><NumberBox
          :model-value="bandSeen.passes"
          :min="1"
          :max="MAX_PASSES"
          aria-label="Passes"
          class="count"
          @update:model-value="(passes: number) => emit('band', { passes }, 'Change the passes')"
        />
        passes</label
      >
    </template>
    <ElSelect
      v-if="free"
      :model-value="band.shape ?? 'even'"
      :options="choices(bandShapeWords, bandShapeSaid)"
      class="shape"
      aria-label="How its depth changes"
      @update:model-value="(shape: BandShape) => emit('band', { shape }, 'Change how deep it is where')"
    />
    <span class="acts">
      <button
        type="button"
        class="word"
        title="Bring the same ink back at the far end"
        aria-label="Again at the end"
        @click="emit('back')"
      >
        Again
      </button>
      <button type="button" class="word" title="Which other inks make this colour" @click="emit('match')">
        Match it
      </button>
    </span>
  </section>

  <section v-else-if="seam && seamSeen" class="slip" :aria-label="`Seam of ${names.join(' and ')}`">
    <p class="what" :title="seamSeen.words">
      <b>{{ names[0] }} into {{ names[1] }}</b>
    </p>
    <span v-if="lies.worked" class="acts"
      ><button
        type="button"
        class="word"
        aria-label="Look at it in Overlap"
        title="Its two inks as an overlap of their own; it comes back from there"
        @click="emit('overlap')"
      >
        In Overlap</button
      ><button type="button" class="word" title="Which inks make its middle in one" @click="emit('match')">
        Match it
      </button></span
    >
    <template v-if="lies.blends">
      <SoftMeasure
        v-if="lies.worked"
        :soft="seamSeen.soft"
        :ways="study.ways"
        label="How softly these two blend"
        @change="(soft) => emit('seam', { soft, overlap: null, feather: null, gap: 0 }, 'How softly a seam blends')"
      />
      <label
        >over
        <LengthInput
          :mm="seam.overlap"
          :auto="seamSeen.overlap"
          :unit="unit"
          aria-label="Over how much the two fade into one another"
          @typed="(mm) => emit('seam', { overlap: mm, gap: 0, feather: null, soft: null }, 'Change an overlap')"
      /></label>
    </template>
    <label
      >gap
      <LengthInput
        :mm="seam.gap ?? 0"
        :unit="unit"
        aria-label="Gap"
        @typed="(mm) => emit('seam', { gap: mm ?? 0, overlap: null, feather: null, soft: null }, 'Change a gap')"
    /></label>
    <template v-if="lies.worked">
      <ElSelect
        :model-value="seam.wet ?? seamSeen.at_once"
        :options="joins"
        class="upper"
        aria-label="At once, or dry between"
        @update:model-value="(wet: boolean) => emit('seam', { wet }, wet ? 'Work two at once' : 'Dry between two')"
      />
      <ElSelect
        :model-value="seam.upper ?? 'order'"
        :options="uppers"
        class="upper"
        aria-label="Which lies on top"
        @update:model-value="(upper: Upper) => emit('seam', { upper }, 'Which lies on top')"
      />
      <ElCheckbox
        :model-value="Boolean(seam.again)"
        label="once more"
        title="Gone over once more, lightly, with the ink laid first"
        @change="emit('seam', { again: !seam.again }, 'Once more over a seam')"
      />
    </template>
  </section>

  <section v-else class="slip" aria-label="The front">
    <div class="layouts" role="radiogroup" aria-label="How the bands lie">
      <button
        v-for="layout in layoutWords"
        :key="layout"
        type="button"
        role="radio"
        :aria-checked="plan.layout === layout"
        :aria-label="layoutSaid[layout]"
        :title="layoutSaid[layout]"
        @click="emit('front', { layout: layout as Layout }, 'Change the layout')"
      >
        <svg viewBox="-1 -1 22 28" width="24" height="30" aria-hidden="true">
          <path d="M0 0h20v26H0z" class="edge" />
          <path :d="layoutGlyphs[layout]" />
        </svg>
      </button>
      <b>{{ layoutSaid[plan.layout ?? 'straight'] }}</b>
    </div>
    <label v-if="lies.line === 'across' || lies.line === 'round'">
      turned
      <NumberBox
        :model-value="plan.angle ?? 0"
        :min="-180"
        :max="180"
        :step="15"
        aria-label="Angle of the bands in degrees"
        class="count"
        @update:model-value="(angle: number) => emit('front', { angle }, 'Turn the bands')"
      />°
    </label>
    <span class="acts"><button type="button" class="word" title="E" @click="emit('even')">Even out</button></span>
    <template v-if="lies.overlaid">
      <ElSelect
        :model-value="ribbon.edge"
        :options="choices(edgeWords, edgeSaid)"
        class="tool"
        aria-label="Edge"
        @update:model-value="(edge) => emit('front', { ribbon: { ...ribbon, edge } }, 'Change the edge')"
      />
      <label
        >leaning
        <NumberBox
          :model-value="ribbon.lean"
          :min="0"
          :max="30"
          aria-label="Lean in degrees"
          class="count"
          @update:model-value="(lean: number) => emit('front', { ribbon: { ...ribbon, lean } }, 'Lean the edge')"
        />°</label
      >
      <ElCheckbox
        :model-value="ribbon.carry"
        label="edge left uncleaned"
        @change="emit('front', { ribbon: { ...ribbon, carry: !ribbon.carry } }, 'Carry over')"
      />
    </template>
    <template v-else-if="lies.rolled">
      <ElCheckbox
        :model-value="plan.rolls === 2"
        label="once more from the other side"
        @change="emit('front', { rolls: plan.rolls === 2 ? 1 : 2 }, 'Roll again')"
      />
      <ElCheckbox
        v-if="plan.rolls === 2"
        :model-value="plan.roll_wet"
        label="into the wet"
        @change="emit('front', { roll_wet: !plan.roll_wet }, 'Wet or dry')"
      />
    </template>
    <SoftMeasure
      v-if="lies.worked && study.ways.length"
      :soft="plan.soft ?? 1"
      :ways="study.ways"
      label="How softly the bands blend"
      @change="(soft) => emit('front', { soft }, 'How softly it blends')"
    />
    <template v-if="lies.blends">
      <ElCheckbox
        :model-value="plan.count_between"
        label="in-betweens count"
        @change="emit('front', { count_between: !plan.count_between }, 'Count the in-betweens')"
      />
      <ElCheckbox
        :model-value="plan.widen_pale"
        label="pale inks wider"
        @change="emit('front', { widen_pale: !plan.widen_pale }, 'Pale inks wider')"
      />
    </template>
  </section>
</template>

<style scoped>
:deep(.el-select__wrapper) {
  min-height: 40px;
  font-size: 16px;
}
.slip {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 9px;
  min-height: 96px;
  align-content: start;
  padding: 5px 4px 0;
  border-top: 1px solid var(--line-soft);
  font-size: 16px;
}
.what {
  max-width: 190px;
  margin: 0;
}
.what b {
  font: 600 17px/1.1 var(--colour-names);
}
label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.count {
  width: 88px;
}
.count :deep(.el-input__wrapper) {
  padding-inline: 31px;
}
.count :deep(.el-input-number__decrease),
.count :deep(.el-input-number__increase) {
  width: 30px;
}
.tool {
  width: 122px;
}
.load {
  width: 108px;
}
.upper {
  width: 162px;
}
.shape {
  width: 150px;
}

.acts {
  display: flex;
  gap: 2px;
}
.word {
  border-color: var(--line);
}
.layouts {
  display: flex;
  gap: 2px;
  align-items: center;
}
.layouts b {
  margin-left: 8px;
  font: 600 17px/1.2 var(--colour-names);
}
.layouts button {
  display: grid;
  place-content: center;
  width: 40px;
  height: 42px;
  padding: 0;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  cursor: pointer;
}
.layouts button:hover {
  border-color: var(--line);
}
.layouts button[aria-checked='true'] {
  border: 2px solid var(--text);
  background: var(--raised);
}
.layouts path {
  fill: none;
  stroke: var(--text);
  stroke-width: 1.6;
}
.layouts .edge {
  stroke-width: 1;
}
</style>

<script setup lang="ts">
/** Size, frame and sheet of a panel. */
import { ElCheckbox, ElSelect } from 'element-plus'
import { computed } from 'vue'

import type { PanelItem } from '@/shared/api'
import { frameSaid, frameWords, PANEL_SIZES, SHEET_SIZES } from '../../generated/words'
import type { Unit } from '@/shared/units'
import { choices } from '@/shared/choices'
import LengthInput from './LengthInput.vue'

const { plan, unit, cards } = defineProps<{ plan: PanelItem; unit: Unit; cards: { value: number; label: string }[] }>()
const emit = defineEmits<{ change: [edit: Partial<PanelItem>, what: string] }>()

const sheet = computed(() => plan.sheet ?? { width: 210, height: 297, grain: false })
const near = (a: number, b: number): boolean => Math.abs(a - b) < 0.05
const isSize = (size: { width: number; height: number }): boolean =>
  near(Math.min(size.width, size.height), Math.min(plan.width ?? 0, plan.height ?? 0)) &&
  near(Math.max(size.width, size.height), Math.max(plan.width ?? 0, plan.height ?? 0))
const lying = computed(() => (plan.width ?? 0) > (plan.height ?? 0))
const take = (size: { width: number; height: number }): void =>
  emit(
    'change',
    lying.value ? { width: size.height, height: size.width } : { width: size.width, height: size.height },
    'Change the size',
  )
const turned = (): void => emit('change', { width: plan.height, height: plan.width }, 'Turn the panel')
const units = [
  { value: 'mm' as Unit, label: 'millimetres' },
  { value: 'in' as Unit, label: 'inches' },
]
</script>

<template>
  <section aria-label="Size, frame and sheet">
    <h3>The finished panel</h3>
    <div class="sizes" role="radiogroup" aria-label="Common sizes">
      <button
        v-for="size in PANEL_SIZES"
        :key="size.name"
        type="button"
        role="radio"
        :aria-checked="isSize(size)"
        @click="take(size)"
      >
        <svg :viewBox="`0 0 ${size.width} ${size.height}`" width="18" height="28" aria-hidden="true">
          <rect :width="size.width" :height="size.height" /></svg
        >{{ size.name }}
      </button>
    </div>
    <p class="row">
      <LengthInput
        :mm="plan.width"
        :unit="unit"
        aria-label="Width of the panel"
        @typed="(mm) => mm !== null && emit('change', { width: mm }, 'Change the size')"
      />
      wide
      <LengthInput
        :mm="plan.height"
        :unit="unit"
        aria-label="Height of the panel"
        @typed="(mm) => mm !== null && emit('change', { height: mm }, 'Change the size')"
      />
      high
      <button type="button" class="word" @click="turned">{{ lying ? 'Stand it up' : 'Lay it down' }}</button>
    </p>
    <p class="row">
      <label
        >told in
        <ElSelect
          :model-value="unit"
          :options="units"
          class="choice"
          aria-label="Unit"
          @update:model-value="(now: Unit) => emit('change', { unit: now }, 'Change the unit')"
      /></label>
      <label
        >bleed
        <LengthInput
          :mm="plan.bleed"
          :unit="unit"
          aria-label="Bleed"
          @typed="(mm) => mm !== null && emit('change', { bleed: mm }, 'Change the bleed')"
      /></label>
    </p>
    <p class="soft">Bleed is card to spare on every side: work off the edge, trim it afterwards.</p>
    <h3>Around the ink</h3>
    <p class="row">
      <ElSelect
        :model-value="plan.frame ?? 'none'"
        :options="choices(frameWords, frameSaid)"
        class="choice"
        aria-label="Frame"
        @update:model-value="(frame) => emit('change', { frame }, 'Change the frame')"
      />
      <LengthInput
        v-if="plan.frame !== 'none'"
        :mm="plan.frame_width"
        :unit="unit"
        aria-label="Width of the frame"
        @typed="(mm) => mm !== null && emit('change', { frame_width: mm }, 'Change the frame')"
      />
      <ElSelect
        v-if="plan.frame === 'mat'"
        :model-value="plan.mat_id ?? undefined"
        :options="cards"
        class="choice"
        placeholder="white card"
        aria-label="Card of the mat"
        @update:model-value="(id: number) => emit('change', { mat_id: id }, 'Change the mat')"
      />
    </p>
    <h3>Cut from</h3>
    <div class="sizes" role="radiogroup" aria-label="Common sheets">
      <button
        v-for="size in SHEET_SIZES"
        :key="size.name"
        type="button"
        role="radio"
        :aria-checked="near(size.width, sheet.width) && near(size.height, sheet.height)"
        @click="emit('change', { sheet: { ...sheet, width: size.width, height: size.height } }, 'Change the sheet')"
      >
        {{ size.name }}
      </button>
    </div>
    <p class="row">
      <LengthInput
        :mm="sheet.width"
        :unit="unit"
        aria-label="Width of the sheet"
        @typed="(mm) => mm !== null && emit('change', { sheet: { ...sheet, width: mm } }, 'Change the sheet')"
      />
      wide
      <LengthInput
        :mm="sheet.height"
        :unit="unit"
        aria-label="Height of the sheet"
        @typed="(mm) => mm !== null && emit('change', { sheet: { ...sheet, height: mm } }, 'Change the sheet')"
      />
      high
    </p>
    <ElCheckbox
      :model-value="sheet.grain"
      label="all panels one way, with the grain"
      @change="emit('change', { sheet: { ...sheet, grain: !sheet.grain } }, 'Grain')"
    />
  </section>
</template>

<style scoped>
:deep(.el-select__wrapper) {
  min-height: 40px;
  font-size: 16px;
}
h3 {
  margin: 6px 0 8px;
  font: 600 17px/1.2 var(--colour-names);
}
.sizes {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.sizes button,
.word {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 40px;
  padding: 0 8px;
  font-size: 15px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: none;
  cursor: pointer;
}
.sizes button[aria-checked='true'] {
  border: 2px solid var(--text);
  background: var(--raised);
  font-weight: 700;
}
rect {
  fill: none;
  stroke: var(--text);
  stroke-width: 6;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 12px 0 0;
}
label {
  display: flex;
  gap: 8px;
  align-items: center;
}
.choice {
  width: 170px;
}
.soft {
  color: var(--text-soft);
  font-size: 16px;
}
</style>

<script setup lang="ts">
/** Layers on top of the bands: ink through a stencil, water by drops, stamp or stencil, a topcoat. */
import { ElButton, ElInputNumber, ElSelect } from 'element-plus'
import { computed } from 'vue'

import NumberBox from '@/shared/NumberBox.vue'
import type { PanelTop } from '@/shared/api'
import {
  MAX_PASSES,
  MAX_TOPS,
  type Motif,
  motifSaid,
  motifWords,
  type Tool,
  toolSaid,
  toolWords,
  type Topping,
  toppingSaid,
  toppingWords,
} from '../../generated/words'
import type { Unit } from '@/shared/units'
import { choices } from '@/shared/choices'
import TypedInput from '@/shared/TypedInput.vue'
import LengthInput from './LengthInput.vue'
import { LEAF } from './geometry'

const { tops, unit, inks, whites, white, held } = defineProps<{
  tops: readonly PanelTop[]
  unit: Unit
  inks: { value: number; label: string }[]
  /** White pigments at hand. */
  whites: readonly { value: number; label: string }[]
  /** The one that lies under all of it. */
  white: number | null
  /** The layer that is held on the front. */
  held: number | null
}>()
const under = computed(() => [{ value: 0, label: 'nothing' }, ...whites])
const emit = defineEmits<{
  change: [tops: PanelTop[], what: string]
  under: [white: number | null]
  hold: [at: number | null]
}>()

const edit = (at: number, part: Partial<PanelTop>): void =>
  emit(
    'change',
    tops.map((top, k) => (k === at ? { ...top, ...part } : top)),
    'Change what is on top',
  )
function turnInto(at: number, kind: Topping): void {
  const ink_id = kind === 'ink' ? (tops[at]?.ink_id ?? inks[0]?.value ?? null) : null
  edit(at, { kind, ink_id, motif: kind === 'glaze' ? 'all' : kind === 'water' ? 'drops' : 'dots' })
}
const add = (): void =>
  emit(
    'change',
    [
      ...tops,
      { kind: 'water', motif: 'drops', size: 10, step: 15, path: '', x: 0, y: 0, turn: 0, dilution: 0 } as PanelTop,
    ],
    'Lay something on top',
  )
</script>

<template>
  <section aria-label="Under and on top of the bands">
    <p class="under">
      <label
        >Under all of it
        <ElSelect
          :model-value="white ?? 0"
          :options="under"
          class="wide"
          aria-label="White under all of it"
          @update:model-value="(id: number) => emit('under', id || null)"
      /></label>
      White pigment, brushed thinly and dried, gives a dye on coloured card most of its brightness back.
    </p>
    <p v-if="!tops.length">
      Nothing lies on top yet. Let the bands dry first; white pigment over a dry blend stays white, water lifts what is
      reactive.
    </p>
    <ul>
      <li v-for="(top, k) in tops" :key="k">
        <b>{{ k + 1 }}</b>
        <ElSelect
          :model-value="top.kind"
          :options="choices(toppingWords, toppingSaid)"
          class="wide"
          :aria-label="`What lies on top, ${k + 1}`"
          @update:model-value="(kind: Topping) => turnInto(k, kind)"
        />
        <ElSelect
          v-if="top.kind === 'ink'"
          :model-value="top.ink_id ?? undefined"
          :options="inks"
          filterable
          class="wide"
          :aria-label="`Ink on top, ${k + 1}`"
          @update:model-value="(ink_id: number) => edit(k, { ink_id })"
        />
        <ElSelect
          :model-value="top.motif"
          :options="choices(motifWords, motifSaid)"
          class="mid"
          :aria-label="`Shape, ${k + 1}`"
          @update:model-value="(motif: Motif) => edit(k, { motif, path: top.path || (motif === 'own' ? LEAF : '') })"
        />
        <template v-if="top.motif !== 'all'">
          <label
            ><LengthInput
              :mm="top.size"
              :unit="unit"
              :aria-label="`Size of the shape, ${k + 1}`"
              @typed="(mm) => mm && edit(k, { size: mm })"
            />
            wide</label
          >
          <label
            >every
            <LengthInput
              :mm="top.step"
              :unit="unit"
              :aria-label="`Distance of the shapes, ${k + 1}`"
              @typed="(mm) => mm && edit(k, { step: mm })"
          /></label>
          <label v-if="top.motif !== 'drops'"
            >turned
            <NumberBox
              :model-value="top.turn ?? 0"
              :min="-180"
              :max="180"
              :step="15"
              class="count"
              :aria-label="`Turn of the shapes in degrees, ${k + 1}`"
              @update:model-value="(turn: number) => edit(k, { turn })"
            />°</label
          >
          <button
            type="button"
            class="word"
            :aria-pressed="held === k"
            title="Drag it, size it, turn it on the front"
            @click="emit('hold', held === k ? null : k)"
          >
            {{ held === k ? 'Let go of it' : 'Hold it on the front' }}
          </button>
        </template>
        <template v-if="top.kind === 'ink'">
          <ElSelect
            :model-value="top.tool ?? undefined"
            :options="choices(toolWords, toolSaid)"
            class="mid"
            placeholder="usual tool"
            :aria-label="`Tool on top, ${k + 1}`"
            @update:model-value="(tool: Tool) => edit(k, { tool, passes: null })"
          />
          <label
            ><ElInputNumber
              :model-value="top.passes ?? undefined"
              :min="1"
              :max="MAX_PASSES"
              placeholder="usual"
              class="count"
              :aria-label="`Passes on top, ${k + 1}`"
              @change="(passes: number | undefined) => edit(k, { passes: passes ?? null })"
            />
            passes</label
          >
        </template>
        <TypedInput
          v-if="top.motif === 'own'"
          :value="top.path ?? ''"
          type="textarea"
          :rows="2"
          class="path"
          placeholder="An SVG path, such as M0 0 L10 0 L5 8 Z"
          :aria-label="`SVG path, ${k + 1}`"
          @typed="(path: string) => edit(k, { path })"
        />
        <button
          type="button"
          class="word"
          :aria-label="`Take away what is on top, ${k + 1}`"
          @click="
            emit(
              'change',
              tops.filter((_, n) => n !== k),
              'Take away what is on top',
            )
          "
        >
          Take away
        </button>
      </li>
    </ul>
    <ElButton size="large" :disabled="tops.length >= MAX_TOPS" @click="add">Lay something on top</ElButton>
  </section>
</template>

<style scoped>
:deep(.el-select__wrapper) {
  min-height: 40px;
  font-size: 16px;
}
ul {
  margin: 0 0 14px;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  padding: 10px 0;
  border-bottom: 1px solid var(--line-soft);
}
.wide {
  width: 100%;
}
.mid {
  width: 148px;
}
.under,
section > p {
  margin: 4px 0 8px;
  font-size: 15px;
  line-height: 1.3;
}
.count {
  width: 120px;
}
.path {
  flex-basis: 100%;
}
label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.word {
  border-color: var(--line);
}
</style>

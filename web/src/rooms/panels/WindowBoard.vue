<script setup lang="ts">
/** A window over the panel: which shape, how large, and which colours it leaves. */
import { ElInput } from 'element-plus'
import { ref } from 'vue'

import type { PanelWindow, Through } from '@/shared/api'
import { openingSaid, openingWords } from '../../generated/words'
import type { Unit } from '@/shared/units'
import LengthInput from './LengthInput.vue'

const { window: shape, through, unit } = defineProps<{ window: PanelWindow; through: Through | null; unit: Unit }>()
const emit = defineEmits<{ change: [edit: Partial<PanelWindow>]; away: [] }>()
const path = ref(shape.path ?? '')

function move(event: KeyboardEvent): void {
  const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
  if (!by) return
  event.preventDefault()
  const step = event.shiftKey ? 10 : 1
  emit('change', { x: shape.x + step * (by[0] ?? 0), y: shape.y + step * (by[1] ?? 0) })
}
</script>

<template>
  <section aria-label="Window over the panel">
    <p class="how">Drag the window over the front, or move it with the arrow keys here.</p>
    <div class="shapes" role="radiogroup" aria-label="Shape" @keydown="move">
      <button
        v-for="kind in openingWords"
        :key="kind"
        type="button"
        role="radio"
        :aria-checked="shape.kind === kind"
        @click="emit('change', { kind })"
      >
        {{ openingSaid[kind] }}
      </button>
    </div>
    <p class="size">
      <LengthInput
        :mm="shape.width"
        :unit="unit"
        aria-label="Width of the window"
        @typed="(mm) => mm && emit('change', { width: mm })"
      />
      wide
      <LengthInput
        :mm="shape.height"
        :unit="unit"
        aria-label="Height of the window"
        @typed="(mm) => mm && emit('change', { height: mm })"
      />
      high
    </p>
    <ElInput
      v-if="shape.kind === 'own'"
      v-model="path"
      type="textarea"
      :rows="3"
      placeholder="An SVG path, such as M0 0 L10 0 L5 8 Z"
      aria-label="SVG path"
      @change="(text: string) => emit('change', { path: text })"
    />
    <template v-if="through">
      <p class="sum" role="status">
        <b>{{ through.colours }}</b> {{ through.colours === 1 ? 'colour is' : 'colours are' }} left.
      </p>
      <ul>
        <li v-for="each in through.left" :key="each.name">
          <i :style="{ backgroundColor: each.hex }"></i>{{ each.name }}
          <span>{{ each.share < 0.01 ? 'under 1' : Math.round(100 * each.share) }} %</span>
        </li>
      </ul>
      <p v-if="through.lost.length" class="lost">Cut off: {{ through.lost.join(', ') }}.</p>
      <template v-if="through.top_ups.length">
        <h3>To bring them back on the piece</h3>
        <ul class="plain">
          <li v-for="text in through.top_ups" :key="text">{{ text }}</li>
        </ul>
      </template>
      <template v-if="through.to_match.length">
        <h3>Plain card, inked like the middle of it</h3>
        <ol class="plain">
          <li v-for="text in through.to_match" :key="text">{{ text }}</li>
        </ol>
      </template>
    </template>
    <button type="button" class="word" @click="emit('away')">Take the window away</button>
  </section>
</template>

<style scoped>
.how,
.lost {
  margin: 4px 0;
  font-size: 15px;
  line-height: 1.3;
}
h3 {
  margin: 8px 0 2px;
  font: 600 16px/1.2 var(--colour-names);
}
.plain {
  margin: 0 0 6px;
  padding-left: 20px;
}
ul.plain {
  list-style: disc;
}
.plain li {
  display: list-item;
  min-height: 0;
  font-size: 15px;
  line-height: 1.3;
}
.shapes {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.shapes button {
  min-height: 42px;
  padding: 0 10px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: none;
  font-size: 16px;
  cursor: pointer;
}
.word {
  border-color: var(--line);
}
.shapes button[aria-checked='true'] {
  border-color: var(--text);
  background: var(--strong);
  color: var(--on-strong);
}
.size {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin: 8px 0;
}
.sum {
  margin: 8px 0 4px;
}
ul {
  margin: 0 0 8px;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 34px 1fr auto;
  gap: 8px;
  align-items: center;
  min-height: 30px;
  font-size: 16px;
  line-height: 1.15;
}
i {
  height: 22px;
}
li span {
  color: var(--text-soft);
  font-size: 14px;
}
</style>

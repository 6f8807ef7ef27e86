<script setup lang="ts">
/** Numbers of the bands beside a card front, and verdicts beside its flagged seams. */
import { computed } from 'vue'

import type { PanelItem, PanelStudy } from '@/shared/api'
import MudGlass from '@/shared/MudGlass.vue'
import { ordinal } from '@/shared/names'
import { isFlat, markAt, type Spot } from './geometry'
import type { Picked } from './usePanel'

const { plan, study, picked, off, px, mudLine, onPage } = defineProps<{
  plan: PanelItem
  study: PanelStudy
  picked: Picked
  /** From the inked area to the edge of the sheet, mm. */
  off: number
  /** Pixels a millimetre. */
  px: number
  mudLine: number
  /** From mm on the inked area to px on the page. */
  onPage: (spot: Spot) => Spot
}>()
const emit = defineEmits<{ pick: [picked: Picked] }>()

const beside = (more: number): number => (isFlat(plan) ? off + more / px : 0)
const numbers = computed(() =>
  study.bands.map((band, k) => ({
    k,
    spot: onPage(markAt(plan, study, (band.begin + band.end) / 2, beside(17))),
    title: `Band ${k + 1}, ${band.name}: laid ${ordinal(study.order.indexOf(k))}`,
  })),
)
const seams = computed(() =>
  study.seams.flatMap((seam, k) =>
    seam.flags.length
      ? [
          {
            k,
            seam,
            spot: onPage(markAt(plan, study, ((seam.begin + seam.end) / 2) % study.length, beside(44))),
            title: seam.flags.map((flag) => flag.text).join(' '),
          },
        ]
      : [],
  ),
)
const isPicked = (kind: 'band' | 'seam', k: number): boolean => picked.kind === kind && picked.at === k
const placed = (spot: Spot) => ({ left: `${spot.x}px`, top: `${spot.y}px` })
</script>

<template>
  <button
    v-for="mark in numbers"
    :key="`band-${mark.k}`"
    type="button"
    class="mark"
    :class="{ on: isPicked('band', mark.k) }"
    :style="placed(mark.spot)"
    :title="mark.title"
    :aria-label="mark.title"
    @pointerdown.stop
    @click="emit('pick', { kind: 'band', at: mark.k })"
  >
    {{ mark.k + 1 }}
  </button>
  <button
    v-for="mark in seams"
    :key="`seam-${mark.k}`"
    type="button"
    class="mark bare"
    :class="{ on: isPicked('seam', mark.k) }"
    :style="placed(mark.spot)"
    :title="mark.title"
    :aria-label="mark.title"
    @pointerdown.stop
    @click="emit('pick', { kind: 'seam', at: mark.k })"
  >
    <MudGlass v-if="mark.seam.mud >= mudLine" :mud="mark.seam.mud" :line="mudLine" :size="22" />
    <svg v-else width="20" height="20" viewBox="0 0 20 20">
      <path v-if="mark.seam.flags.some((flag) => flag.code === 'hard_line')" d="M10 2v16M6 5v10M14 5v10" />
      <circle v-else-if="mark.seam.kind === 'swamped'" cx="10" cy="10" r="6" />
      <path v-else d="M4 7h12M4 13h12" />
    </svg>
  </button>
</template>

<style scoped>
.mark {
  position: absolute;
  display: grid;
  place-content: center;
  width: 26px;
  height: 26px;
  padding: 0;
  transform: translate(-50%, -50%);
  border: 1px solid var(--line);
  border-radius: 50%;
  background: var(--raised);
  font-size: 15px;
  font-weight: 600;
  line-height: 1;
  cursor: pointer;
}
.mark.on {
  background: var(--strong);
  color: var(--on-strong);
}
.mark.bare {
  border-radius: 4px;
}
.mark.bare.on {
  background: var(--raised);
  color: var(--text);
  outline: 2px solid var(--text);
}
.mark svg path,
.mark svg circle {
  fill: none;
  stroke: currentcolor;
  stroke-width: 2;
}
</style>

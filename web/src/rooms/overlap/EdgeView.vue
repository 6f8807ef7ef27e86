<script setup lang="ts">
/**
 * The card cut through and seen edge-on: ink soaked into the paper, films on top. Each
 * entry begins a step further right, so that every layer shows; above the steps lies
 * what is seen from above once it is on. This is the editor of the stack: pick a layer,
 * drag it, change it in place.
 */
import { ElSelect } from 'element-plus'
import { useElementSize } from '@vueuse/core'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'

import NumberBox from '@/shared/NumberBox.vue'
import type { Crossing, Entry, StashInk } from '@/shared/api'
import {
  type Load,
  loadSaid,
  loadWords,
  MAX_DILUTION,
  MAX_DOSE,
  MAX_PASSES,
  type Tool,
  toolSaid,
  toolWords,
  type Treatment,
  treatmentSaid,
  treatmentWords,
} from '../../generated/words'

export interface Layer {
  entry: Entry
  inks: (StashInk | null)[]
  name: string
  /** Of the ink by itself. */
  hex: string
}

const { layers, crossing, cardHex, active, laid } = defineProps<{
  layers: readonly Layer[]
  crossing: Crossing
  cardHex: string
  active: number
  laid: number
}>()
const emit = defineEmits<{
  activate: [index: number]
  change: [index: number, edit: Partial<Entry>, what: string]
  move: [from: number, to: number]
  remove: [index: number]
  treat: [treatment: Treatment]
  barrier: []
  laid: [count: number]
  mix: [index: number]
  apart: [index: number]
}>()

const tools = toolWords.map((value) => ({ value, label: toolSaid[value] }))
const loads = loadWords.map((value) => ({ value, label: loadSaid[value] }))

const box = useTemplateRef<HTMLElement>('box')
const { width } = useElementSize(box)
const BARE = 62
const NEXT = 74
const CUT = 96
const SURFACE = 44
/** Width of one step; beyond a handful the row scrolls. */
const pitch = computed(() => Math.max(92, (width.value - BARE - NEXT) / Math.max(layers.length, 1)))
const whole = computed(() => Math.max(width.value, BARE + NEXT + pitch.value * layers.length))
const left = (index: number): number => BARE + pitch.value * index

interface Slab {
  entry: number
  fill: string
  x: number
  y: number
  h: number
  soaked: boolean
  joined: boolean
}

/** Soaked-in ink as bands in the paper, films as bands on it; thickness by dose. */
const slabs = computed<Slab[]>(() => {
  let top = SURFACE
  let film = 0
  const found: Slab[] = []
  for (const cut of crossing.cut) {
    const layer = layers[cut.entry]
    if (!layer) continue
    const fill = layer.hex
    const x = left(cut.entry)
    const { entry, joined } = cut
    if (cut.soaks > 0.02) {
      const h = 5 + 34 * (1 - Math.exp(-cut.soaks * 0.8))
      // Over a film a dye stays on top, as a clear layer of its own.
      if (film > 0.1) {
        const thin = Math.min(3 + 4 * cut.soaks, 9)
        top -= thin
        found.push({ entry, fill, x, y: top, h: thin, soaked: false, joined })
      } else found.push({ entry, fill, x, y: SURFACE, h, soaked: true, joined })
    }
    if (cut.sits > 0.02) {
      const h = Math.min(3 + 12 * (1 - Math.exp(-cut.sits * 0.9)), Math.max(3, top - 4))
      top -= h
      film += cut.sits
      found.push({ entry, fill, x, y: top, h, soaked: false, joined })
    }
  }
  return found
})

/** Fibres of the paper, the same on every card. */
const fibres = computed(() =>
  Array.from({ length: Math.round(whole.value / 9) }, (_, n) => {
    const x = (n * 67) % Math.max(whole.value, 1)
    const y = SURFACE + 10 + ((n * 29) % (CUT - SURFACE - 14))
    return `M${x} ${y}q9 ${(n % 5) - 2} ${14 + (n % 9)} ${((n * 7) % 5) - 2}`
  }).join(''),
)

const how = (entry: Entry): string =>
  entry.treatment
    ? ''
    : entry.dose !== null && entry.dose !== undefined
      ? `dose ${entry.dose}`
      : `${toolSaid[entry.tool ?? 'pad']} × ${entry.passes ?? 1}`

const picked = computed(() => layers[active] ?? null)
const pickedDose = computed(() => picked.value?.entry.dose ?? null)

const more = ref(false)
watch(
  () => active,
  () => (more.value = false),
)

function edit(change: Partial<Entry>, what: string): void {
  emit('change', active, change, what)
}

/** Amount by tool, or as a uniform dose. */
const byDose = (on: boolean): void => edit({ dose: on ? 1 : null }, on ? 'State the dose' : 'Take a tool')

function walk(event: KeyboardEvent, index: number): void {
  const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
  if (by === undefined) return
  event.preventDefault()
  if (event.altKey) {
    if (index < layers.length && index + by >= 0 && index + by < layers.length) emit('move', index, index + by)
  } else emit('activate', Math.min(Math.max(index + by, 0), layers.length))
  void nextTick(() =>
    box.value?.querySelectorAll<HTMLElement>('.tag')[Math.min(Math.max(index + by, 0), layers.length)]?.focus(),
  )
}

// Dragging a layer by its name tag to another place in the stack.
const drag = ref<{ from: number; start: number; by: number; to: number } | null>(null)

function grab(event: PointerEvent, from: number): void {
  if (event.button !== 0) return
  drag.value = { from, start: event.clientX, by: 0, to: from }
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
}
function pull(event: PointerEvent): void {
  if (!drag.value) return
  const by = event.clientX - drag.value.start
  const to = Math.min(Math.max(Math.round(drag.value.from + by / pitch.value), 0), layers.length - 1)
  drag.value = { ...drag.value, by, to }
}
function drop(): void {
  const now = drag.value
  drag.value = null
  if (now && now.to !== now.from) emit('move', now.from, now.to)
}
</script>

<template>
  <section class="edge" aria-label="The card cut through">
    <div ref="box" class="scroll">
      <div class="row" :style="{ width: `${whole}px` }">
        <span class="bare" :style="{ width: `${BARE}px` }">
          <i class="seen" :style="{ backgroundColor: cardHex }"></i>
          <small>card</small>
        </span>
        <button
          v-for="(layer, index) in layers"
          :key="index"
          type="button"
          class="tag"
          :class="{
            active: index === active,
            dragged: drag?.from === index,
            target: drag && drag.to === index && drag.from !== index,
            inked: index < laid,
          }"
          :style="{ width: `${pitch}px`, ...(drag?.from === index ? { transform: `translateX(${drag.by}px)` } : {}) }"
          :aria-pressed="index === active"
          :title="`${layer.name} ${how(layer.entry)}`"
          :aria-label="`Layer ${index + 1} of ${layers.length}: ${layer.name} ${layer.entry.treatment ? 'on all below' : how(layer.entry)}${layer.entry.over === 'wet' ? ', into the wet' : ''}${index < laid ? ', on the card already' : ''}`"
          @click="emit('activate', index)"
          @keydown="walk($event, index)"
          @pointerdown="grab($event, index)"
          @pointermove="pull"
          @pointerup="drop"
          @pointercancel="drag = null"
        >
          <i class="seen" :style="{ backgroundColor: crossing.steps[index] }"></i>
          <b>{{ layer.name }}</b>{{ ' ' }}
          <small>{{ layer.entry.treatment ? 'on all below' : how(layer.entry) }}</small>
        </button>
        <button
          type="button"
          class="tag next"
          :class="{ active: active >= layers.length }"
          :style="{ width: `${NEXT}px` }"
          :aria-pressed="active >= layers.length"
          aria-label="+ next: lay another on top"
          title="Lay another on top (N)"
          @click="emit('activate', layers.length)"
          @keydown="walk($event, layers.length)"
        >
          <b>+ next</b>
        </button>
      </div>
      <svg :width="whole" :height="CUT" class="cut" aria-hidden="true">
        <defs>
          <linearGradient v-for="(slab, n) in slabs" :id="`soak${n}`" :key="n" x1="0" y1="0" x2="0" y2="1">
            <stop offset="0" :stop-color="slab.fill" stop-opacity="0.95" />
            <stop offset="0.55" :stop-color="slab.fill" stop-opacity="0.6" />
            <stop offset="1" :stop-color="slab.fill" stop-opacity="0" />
          </linearGradient>
          <filter id="soft" x="-2%" y="-60%" width="104%" height="220%"><feGaussianBlur stdDeviation="0 2.6" /></filter>
        </defs>
        <rect :y="SURFACE" :width="whole" :height="CUT - SURFACE" :fill="cardHex" />
        <path :d="fibres" class="fibre" />
        <g v-for="(slab, n) in slabs" :key="n">
          <rect
            :x="slab.x"
            :y="slab.y"
            :width="whole - slab.x"
            :height="slab.h"
            :fill="slab.soaked ? `url(#soak${n})` : slab.fill"
            :filter="slab.joined && !slab.soaked ? 'url(#soft)' : undefined"
          />
          <!-- Dry joins are sharp, wet ones run into each other. -->
          <path
            v-if="!slab.joined && !slab.soaked"
            :d="`M${slab.x} ${slab.y + slab.h}H${whole}M${slab.x} ${slab.y}V${slab.y + slab.h}`"
            class="join"
          />
          <path v-else-if="!slab.joined" :d="`M${slab.x} ${SURFACE}V${SURFACE + slab.h}`" class="join" />
        </g>
        <path :d="`M0 ${SURFACE}H${whole}`" class="surface" />
        <template v-for="(layer, index) in layers" :key="`t${index}`">
          <g v-if="layer.entry.treatment" :transform="`translate(${left(index)} 0)`" class="treated">
            <path :d="`M4 6V${SURFACE}`" />
            <text x="10" y="18">{{ treatmentSaid[layer.entry.treatment] }}</text>
          </g>
        </template>
        <rect
          v-if="active < layers.length"
          :x="left(active) + 1"
          y="1"
          :width="pitch - 2"
          :height="CUT - 2"
          class="picked"
        />
        <g v-if="laid > 0" class="done">
          <path :d="`M${BARE} ${CUT - 3}H${left(laid) - 3}v-9`" />
        </g>
      </svg>
    </div>

    <div v-if="picked" class="knobs" role="group" :aria-label="`${picked.name}, layer ${active + 1}`">
      <template v-if="!picked.entry.treatment">
        <template v-if="pickedDose === null">
          <ElSelect
            :model-value="picked.entry.tool ?? 'pad'"
            :options="tools"
            class="tool"
            :aria-label="`Tool for ${picked.name}`"
            @update:model-value="(tool: Tool) => edit({ tool }, 'Change the tool')"
          />
          <NumberBox
            :model-value="picked.entry.passes ?? 1"
            :min="1"
            :max="MAX_PASSES"
            class="number"
            :aria-label="`Passes of ${picked.name}`"
            @update:model-value="(passes: number) => edit({ passes }, 'Change the passes')"
          />
          <ElSelect
            :model-value="picked.entry.load ?? picked.inks[0]?.load ?? 'normal'"
            :options="loads"
            class="load"
            :aria-label="`Load for ${picked.name}`"
            @update:model-value="(load: Load) => edit({ load }, 'Change the load')"
          />
        </template>
        <NumberBox
          v-else
          :model-value="pickedDose"
          :min="0"
          :max="MAX_DOSE"
          :step="0.1"
          class="number"
          :aria-label="`Dose of ${picked.name}`"
          @update:model-value="(dose: number) => edit({ dose }, 'Change the dose')"
        />
        <button
          type="button"
          class="word join-word"
          :aria-pressed="picked.entry.over === 'wet'"
          :disabled="active === 0"
          title="Into the wet, or over dry (W)"
          @click="edit({ over: picked.entry.over === 'wet' ? 'dry' : 'wet' }, 'Wet or dry')"
        >
          {{ picked.entry.over === 'wet' ? 'while wet' : 'let dry first' }}
        </button>
      </template>
      <span v-else class="what">{{ treatmentSaid[picked.entry.treatment] }}: acts on all below it</span>
      <button type="button" class="word" :aria-expanded="more" @click="more = !more">More</button>
      <button type="button" class="word" title="Take it out (Delete)" @click="emit('remove', active)">Take out</button>
    </div>
    <div v-else class="knobs">
      <span class="what">Press an ink to lay it on top, or</span>
      <button
        v-for="treatment in treatmentWords"
        :key="treatment"
        type="button"
        class="word"
        @click="emit('treat', treatment)"
      >
        {{ treatmentSaid[treatment] }}
      </button>
    </div>
    <div
      v-if="picked && more"
      class="knobs second"
      role="group"
      :aria-label="`More on ${picked.name}`"
      @keydown.esc="more = false"
    >
      <template v-if="!picked.entry.treatment">
        <label>
          Water
          <NumberBox
            :model-value="Math.round(100 * (picked.entry.dilution ?? 0))"
            :min="0"
            :max="100 * MAX_DILUTION"
            :step="5"
            class="number"
            :aria-label="`Per cent of water in ${picked.name}`"
            @update:model-value="(water: number) => edit({ dilution: water / 100 }, 'Dilute')"
          />
          %
        </label>
        <button type="button" class="word" :aria-pressed="pickedDose !== null" @click="byDose(pickedDose === null)">
          Exact amount
        </button>
        <template v-if="picked.entry.mix">
          <label v-for="(part, n) in picked.entry.mix" :key="n">
            {{ picked.inks[n]?.name }}
            <NumberBox
              :model-value="Math.round(100 * part.share)"
              :min="1"
              :max="100"
              :step="5"
              class="number"
              :aria-label="`Parts of ${picked.inks[n]?.name}`"
              @update:model-value="
                (share: number) =>
                  edit(
                    {
                      mix: (picked?.entry.mix ?? []).map((old, i) => (i === n ? { ...old, share: share / 100 } : old)),
                    },
                    'Change the mix',
                  )
              "
            />
          </label>
          <button type="button" class="word" @click="emit('apart', active)">Unmix</button>
        </template>
        <button
          v-else-if="active > 0 && !layers[active - 1]?.entry.treatment"
          type="button"
          class="word"
          :title="`Mix ${picked.name} with ${layers[active - 1]?.name} before they go on`"
          @click="emit('mix', active)"
        >
          Mix with the one below
        </button>
      </template>
      <button
        type="button"
        class="word"
        :disabled="active === 0"
        title="Lower in the stack (Alt ←)"
        aria-label="Lay it earlier"
        @click="emit('move', active, active - 1)"
      >
        ← earlier
      </button>
      <button
        type="button"
        class="word"
        :disabled="active >= layers.length - 1"
        title="Higher in the stack (Alt →)"
        aria-label="Lay it later"
        @click="emit('move', active, active + 1)"
      >
        later →
      </button>
      <button
        type="button"
        class="word"
        :aria-pressed="active < laid"
        title="On the card already up to here (L)"
        @click="emit('laid', active < laid ? active : active + 1)"
      >
        {{ active < laid ? 'Not on the card yet' : 'On the card up to here' }}
      </button>
      <button
        type="button"
        class="word"
        title="White pigment brushed thinly under everything (B)"
        @click="emit('barrier')"
      >
        White barrier below
      </button>
    </div>
  </section>
</template>

<style scoped src="./EdgeView.css"></style>

<script setup lang="ts">
/** A colour without numbers: a family, the nearest of a field, then nudges, with the real swatch held beside the screen. */
import { ElSegmented } from 'element-plus'
import { computed, nextTick, onMounted, ref, shallowRef, watch } from 'vue'

import { api, need, type EyeAround, type EyeColour, type EyeField, type EyeStart, type GivenColour } from '@/shared/api'
import { type EyeFamily, type EyeLight, eyeFamilySaid, eyeLightSaid, eyeLightWords } from '../../generated/words'
import { choices } from '@/shared/choices'
import { useNewest } from '@/shared/newest'
import { useStash } from './useStash'

const { start = null } = defineProps<{ start?: number[] | null }>()
const emit = defineEmits<{ found: [colour: GivenColour, spread: number, hex: string] }>()
const { attempt } = useStash()

const begin = shallowRef<EyeStart | null>(null)
const family = ref<EyeFamily | null>(null)
const field = shallowRef<EyeField | null>(null)
const around = shallowRef<EyeAround | null>(null)
const size = ref(0)
const sizes = [
  { value: 0, label: 'a good step' },
  { value: 1, label: 'a step' },
  { value: 2, label: 'a touch' },
]
const light = ref<EyeLight>('daylight')
const lights = choices(eyeLightWords, eyeLightSaid)
const root = ref<HTMLElement | null>(null)

const ways = computed(() => around.value?.steps[size.value]?.ways ?? [])
const spread = computed(() => begin.value?.spread[light.value] ?? 0)
const unsure = computed(() =>
  light.value === 'daylight'
    ? 'By daylight most people come within a shade or two.'
    : light.value === 'led'
      ? 'Under an LED lamp people miss by some shades: by a window it is surer.'
      : 'Under a warm lamp everything on the card looks too yellow beside a screen: wait for daylight, or take it as a hint.',
)

onMounted(() =>
  attempt(async () => {
    begin.value = await need(api.GET('/api/by-eye'))
    if (start) await to({ lab: start })
    else focus('.families button')
  }),
)
// Another ink is asked about.
watch(
  () => start,
  (now) => void attempt(() => (now ? to({ lab: now }) : leave())),
)

function focus(what: string): void {
  void nextTick(() => root.value?.querySelector<HTMLElement>(what)?.focus())
}
async function leave(): Promise<void> {
  around.value = field.value = family.value = null
  focus('.families button')
}
const fetchField = useNewest(
  (chosen: EyeFamily) => need(api.GET('/api/by-eye/{family}', { params: { path: { family: chosen } } })),
  (found, [chosen]) => {
    field.value = found
    family.value = chosen
    focus('.field button')
  },
)
const open = (chosen: EyeFamily): Promise<boolean> => attempt(() => fetchField(chosen))
const to = useNewest(
  (colour: Pick<EyeColour, 'lab'>) => {
    const [l = 50, a = 0, b = 0] = colour.lab
    return need(api.GET('/api/by-eye/around', { params: { query: { light: l, a, b } } }))
  },
  (found) => (around.value = found),
)
const go = (colour: EyeColour | null): Promise<boolean> =>
  attempt(async () => {
    if (colour) await to(colour)
  })
async function pick(colour: EyeColour): Promise<void> {
  await go(colour)
  focus('.match')
}

function take(): void {
  const at = around.value?.at
  if (at) emit('found', { lab: at.lab, illuminant: 'D65' }, spread.value, at.hex)
}

/** Arrow keys among buttons that stand in rows. */
function walk(event: KeyboardEvent, across: number): void {
  const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -across, ArrowDown: across }[event.key]
  if (by === undefined) return
  event.preventDefault()
  const all = [...((event.currentTarget as HTMLElement).querySelectorAll('button') ?? [])]
  all[all.indexOf(document.activeElement as HTMLButtonElement) + by]?.focus()
}

const NUDGES = ['ArrowUp', 'ArrowDown', 'ArrowRight', 'ArrowLeft', '.', ',']
const keyOf = (i: number): string => ['↑', '↓', '→', '←', '.', ','][i] ?? ''
async function key(event: KeyboardEvent): Promise<void> {
  const i = NUDGES.indexOf(event.key)
  if (i >= 0) {
    event.preventDefault()
    await go(ways.value[i]?.to ?? null)
  } else if (['1', '2', '3'].includes(event.key)) size.value = Number(event.key) - 1
  else if (event.key === 'Enter') {
    event.preventDefault()
    take()
  }
}
</script>

<template>
  <section ref="root" class="eye" aria-label="By eye">
    <template v-if="around">
      <div
        class="match"
        tabindex="0"
        role="group"
        :aria-label="`${around.at.words}: arrow keys nudge it, Enter takes it`"
        @keydown="key"
      >
        <span class="patch" :style="{ backgroundColor: around.at.hex }"></span>
        <p>
          <b>{{ around.at.words }}</b>
          Hold your swatch beside it. Which of these comes nearer?
        </p>
      </div>
      <ElSegmented v-model="size" :options="sizes" aria-label="How far a nudge goes" />
      <div class="nudges">
        <button
          v-for="(way, i) in ways"
          :key="way.way"
          type="button"
          :disabled="!way.to"
          :title="way.to ? `Key ${keyOf(i)}` : 'No screen shows that'"
          @click="go(way.to)"
        >
          <span class="halves"
            ><span :style="{ backgroundColor: around.at.hex }"></span
            ><span :style="{ backgroundColor: way.to?.hex ?? 'transparent' }"></span
          ></span>
          {{ way.way }}
        </button>
      </div>
      <div class="light">
        <span id="eye-light">The swatch is lit by</span>
        <ElSegmented v-model="light" :options="lights" aria-labelledby="eye-light" />
      </div>
      <p class="soft">{{ unsure }}</p>
      <div class="ends">
        <button type="button" class="word framed take" @click="take">Take this colour</button>
        <button type="button" class="link" @click="family ? (around = null) : leave()">
          {{ family ? 'Back to the field' : 'Begin anew' }}
        </button>
      </div>
    </template>
    <template v-else-if="field && family">
      <p class="say">Take the one nearest to your swatch.</p>
      <div class="field" role="group" :aria-label="eyeFamilySaid[family]" @keydown="(event) => walk(event, 8)">
        <template v-for="(row, i) in field.rows" :key="i">
          <button
            v-for="colour in row"
            :key="colour.hex"
            type="button"
            :aria-label="colour.words"
            :title="colour.words"
            :style="{ backgroundColor: colour.hex }"
            @click="pick(colour)"
          ></button>
        </template>
      </div>
      <button type="button" class="link" @click="leave">Another family</button>
    </template>
    <template v-else-if="begin">
      <p class="say">What is it, roughly?</p>
      <div class="families" @keydown="(event) => walk(event, 4)">
        <button v-for="each in begin.families" :key="each.family" type="button" @click="open(each.family)">
          <span :style="{ backgroundColor: each.hex }"></span>{{ eyeFamilySaid[each.family] }}
        </button>
      </div>
    </template>
  </section>
</template>

<style scoped>
.eye {
  display: grid;
  justify-items: start;
  gap: 8px;
}
p {
  margin: 0;
}
.say,
.light {
  font-size: 16px;
}
.soft {
  font-size: 15px;
  color: var(--text-soft);
}
.families {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 4px;
  width: 100%;
}
.families button,
.nudges button {
  display: grid;
  align-content: start;
  gap: 3px;
  min-height: 58px;
  padding: 4px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--raised);
  font-size: 15px;
  line-height: 1.15;
  text-align: left;
  cursor: pointer;
}
.families span {
  height: 26px;
}
.field {
  display: grid;
  grid-template-columns: repeat(8, minmax(0, 1fr));
  gap: 3px;
  width: 100%;
  padding: 6px;
  background: #f8f8f8;
}
.field button {
  height: 42px;
  padding: 0;
  border: 1px solid transparent;
  border-radius: 2px;
  cursor: pointer;
}
.field button:hover {
  border-color: #111;
}
.field button:focus-visible,
.match:focus-visible {
  outline: 3px solid var(--text);
  outline-offset: 2px;
}
.match {
  display: grid;
  grid-template-columns: minmax(150px, 46%) 1fr;
  gap: 10px;
  width: 100%;
  padding: 8px;
  background: #f8f8f8;
  color: #111;
}
.patch {
  min-height: 132px;
}
.match p {
  align-self: center;
  font-size: 16px;
}
.match b {
  display: block;
  font: 600 21px/1.2 var(--colour-names);
}
.nudges {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 4px;
  width: 100%;
}
.halves {
  display: grid;
  grid-template-columns: 1fr 1fr;
  height: 34px;
}
.nudges button:hover:not(:disabled) {
  border-color: var(--text);
}
.nudges button:disabled {
  border-style: dashed;
  color: var(--text-soft);
  cursor: default;
}
.light {
  display: grid;
  gap: 3px;
}
.ends {
  display: flex;
  align-items: center;
  gap: 12px;
}
.eye :deep(.el-segmented__item) {
  min-height: 40px;
  font-size: 15px;
}
</style>

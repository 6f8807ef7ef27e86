<script setup lang="ts">
/** An ink's colour: by eye, off a photo, from a colour picker, typed, from a measured file, from a reader. */
import { ElInput } from 'element-plus'
import { computed, ref, watch } from 'vue'

import { api, need, sendFile, type GivenColour, type Measured, type Reading } from '@/shared/api'
import { readColour } from '@/shared/colour'
import { useStash } from './useStash'
import { type Formula, type Known, knownSaid } from '../../generated/words'
import EyeFinder from './EyeFinder.vue'
import PhotoReader from './PhotoReader.vue'

const { colour, known, spread, hex, formula } = defineProps<{
  colour: GivenColour | null
  known: Known
  spread: number | null
  hex: string | null
  formula: Formula
}>()
const emit = defineEmits<{ set: [given: { colour: GivenColour; known: Known; spread: number | null }] }>()
const { attempt } = useStash()

const typed = computed(() => {
  if (colour?.hex) return colour.hex
  if (colour?.lab) return colour.lab.map((v) => Math.round(v * 10) / 10).join(' ')
  return ''
})
const text = ref(typed.value)
watch(typed, (now) => (text.value = now))
const unread = ref('')
const photo = ref(false)
const byEye = ref(false)
// What a photo or a file gave, until the service says how the stored ink looks.
const picked = ref<string | null>(null)
const measured = ref<Measured[]>([])
const from = ref<Known>('measured')

function readTyped(): void {
  const word = text.value.trim()
  unread.value = ''
  if (!word || word === typed.value) return
  const given = readColour(word)
  picked.value = null
  if (given) emit('set', { colour: given, known: 'typed', spread: null })
  else unread.value = `“${word}” is neither a hex such as #2a5ca8 nor the three numbers of a Lab.`
}

async function readFile(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  from.value = 'measured'
  await attempt(async () => {
    measured.value = await sendFile<Measured[]>('/api/measurements', file)
  })
  input.value = ''
}

async function readReader(): Promise<void> {
  from.value = 'reader'
  await attempt(async () => {
    const file = await need(api.POST('/api/devices/reader', { parseAs: 'text' }))
    measured.value = await sendFile<Measured[]>('/api/measurements', String(file))
  })
}

function take(one: Measured): void {
  measured.value = []
  picked.value = one.hex
  emit('set', { colour: one.colour as GivenColour, known: from.value, spread: null })
}

function takeSeen(found: GivenColour, spread: number | null, seen: string): void {
  byEye.value = false
  picked.value = seen
  emit('set', { colour: found, known: 'eye', spread })
}

function takePicked(event: Event): void {
  const code = (event.target as HTMLInputElement).value
  takeSeen({ hex: code }, null, code)
}

function takeReading(reading: Reading): void {
  photo.value = false
  picked.value = reading.hex
  emit('set', { colour: reading.colour as GivenColour, known: 'photo', spread: reading.spread })
}
</script>

<template>
  <section class="colour" aria-label="Colour">
    <div class="now">
      <span class="felt" :style="{ backgroundColor: hex ?? picked ?? 'transparent' }"></span>
      <div class="typed">
        <ElInput
          v-model="text"
          aria-label="Colour as hex or Lab"
          :placeholder="colour?.spectrum ? 'a measured spectrum' : 'hex, or L a b'"
          @change="readTyped"
        />
        <details v-if="colour && spread !== null" class="known">
          <summary>{{ knownSaid[known] }}</summary>
          ±{{ spread.toFixed(1) }} ΔE00
        </details>
        <span v-else class="known">{{ colour ? knownSaid[known] : 'not known yet' }}</span>
      </div>
    </div>
    <p v-if="unread" class="unread" role="alert">{{ unread }}</p>
    <div class="ways">
      <button type="button" :aria-expanded="byEye" @click="byEye = !byEye">By eye</button>
      <button type="button" @click="photo = true">Off a photo</button>
      <label class="picker"
        >Picker<input type="color" :value="hex ?? picked ?? '#808080'" aria-label="Colour picker" @change="takePicked"
      /></label>
      <label class="pick-file"
        >Measured file<input type="file" accept=".txt,.csv,.cgats,.ti3" @change="readFile"
      /></label>
      <button type="button" title="The simulated hand-held reader" @click="readReader">Reader</button>
    </div>
    <EyeFinder v-if="byEye" class="by-eye" @found="takeSeen" />
    <div v-if="measured.length" class="measured" role="group" aria-label="Measured colours">
      <button v-for="(one, i) in measured" :key="i" type="button" @click="take(one)">
        <span class="dab" :style="{ backgroundColor: one.hex }"></span>{{ one.name }}
      </button>
    </div>
    <PhotoReader v-if="photo" one :formula="formula" @close="photo = false" @take="takeReading" />
  </section>
</template>

<style scoped>
.now {
  display: grid;
  grid-template-columns: 74px 1fr;
  gap: 10px;
}
.felt {
  border: 4px solid #1c1c1c;
  border-radius: 5px;
}
.typed {
  display: grid;
  gap: 3px;
}
.known {
  font-size: 14px;
  color: var(--text-soft);
}
.unread {
  margin: 4px 0 0;
  font-size: 15px;
  font-weight: 600;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  margin-top: 6px;
}
.ways > * {
  min-height: 40px;
  padding: 0 10px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--raised);
  font-size: 16px;
  line-height: 38px;
  cursor: pointer;
}
.ways > button[aria-expanded='true'] {
  border-color: var(--text);
  background: var(--slip);
  font-weight: 700;
}
.picker {
  display: flex;
  align-items: center;
  gap: 6px;
}
.picker input {
  width: 26px;
  height: 26px;
  padding: 0;
  border: 0;
  background: none;
}
.by-eye {
  margin-top: 10px;
}
.measured {
  display: grid;
  gap: 2px;
  max-height: 220px;
  margin-top: 6px;
  overflow-y: auto;
}
.measured button {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 40px;
  padding: 0 6px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  text-align: left;
  cursor: pointer;
}
.measured button:hover {
  border-color: var(--line);
}
.dab {
  width: 40px;
  height: 24px;
}
</style>

<script setup lang="ts">
/** The swatch that is open: every look at it beside the guess, what its owner thinks of it, and where it leads. */
import { ElCheckbox, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'

import type { Swatch } from '@/shared/api'
import { readColour } from '@/shared/colour'
import TypedInput from '@/shared/TypedInput.vue'
import { at, router } from '@/shared/router'
import { useMatch } from '../search/useMatch'
import { useStash } from '../stash/useStash'
import { useLog } from './useLog'
import { ownVerdictSaid, ownVerdictWords, verdictKindSaid } from '../../generated/words'

const { swatch } = defineProps<{ swatch: Swatch }>()
const emit = defineEmits<{ photo: [] }>()
const { inks, nameOf } = useStash()
const { addLook, change, discard } = useLog()
const { asked } = useMatch()

const inkChoices = computed(() => inks.value.map((ink) => ({ value: ink.id, label: nameOf(ink.id) })))
const like = computed(() => (swatch.item.like ?? []).flatMap((each) => (each.ink_id ? [each.ink_id] : [])))
const day = computed(() =>
  swatch.item.laid_on
    ? new Date(swatch.item.laid_on).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })
    : '',
)

function setTags(text: string): void {
  void change({
    tags: [
      ...new Set(
        text
          .split(',')
          .map((each) => each.trim())
          .filter(Boolean),
      ),
    ].slice(0, 20),
  })
}
const bad = ref('')
function typeLook(text: string): void {
  if (!text.trim()) return
  const colour = readColour(text)
  bad.value = colour ? '' : `“${text.slice(0, 40)}” is no colour: type #8a6fb0, or L a b as 55.2 20.1 -30.5.`
  if (colour)
    void addLook(swatch.id, { colour, known: 'lab' in colour ? 'reader' : 'typed', look: 'dry', drops: false })
}
function match(): void {
  const last = swatch.sightings.at(-1)
  if (!last) return
  const [l, a, b] = last.lab as [number, number, number]
  asked.value.target = { colour: { lab: [l, a, b], illuminant: 'D65' } }
  asked.value.name = swatch.item.name
  void router.push(at('match'))
}
function dropLook(k: number): void {
  void change({ sightings: (swatch.item.sightings ?? []).filter((_, n) => n !== k) })
}
</script>

<template>
  <aside class="slip" :aria-label="swatch.item.name">
    <header>
      <TypedInput
        class="called"
        :value="swatch.item.name"
        aria-label="Name of the swatch"
        @typed="(name: string) => name.trim() && change({ name: name.trim().slice(0, 200) })"
      />
      <button
        type="button"
        class="word"
        :aria-pressed="Boolean(swatch.item.favourite)"
        @click="change({ favourite: !swatch.item.favourite })"
      >
        {{ swatch.item.favourite ? '♥ A favourite' : '♡ Favourite' }}
      </button>
    </header>
    <p class="about">{{ [day, swatch.card_name].filter(Boolean).join(', on ') }}</p>
    <p v-if="swatch.trouble" class="trouble">{{ swatch.trouble }}</p>
    <ol v-if="swatch.sightings.length" class="looks">
      <li v-for="(seen, k) in swatch.sightings" :key="k">
        <p class="said">{{ seen.said }}</p>
        <div class="edge" :style="{ backgroundColor: swatch.card }">
          <span :style="{ backgroundColor: seen.hex }"></span
          ><span v-if="seen.predicted" :style="{ backgroundColor: seen.predicted }"></span>
        </div>
        <div class="pair">
          <span>came out {{ seen.words }}</span
          ><span v-if="seen.predicted">I guessed {{ seen.predicted_words }}</span>
        </div>
        <p class="differs">
          <b>{{ seen.differs }}</b>
        </p>
        <img v-if="seen.photo" :src="`/api/photos/${seen.photo}`" :alt="`Photo of ${swatch.item.name}, ${seen.said}`" />
        <details class="figures">
          <summary>The figures</summary>
          L* a* b* {{ seen.lab.map((v) => v.toFixed(1)).join(' ') }}, read to ±{{ seen.spread.toFixed(1) }} ΔE00.
          <template v-if="seen.delta_e !== null">
            {{ seen.delta_e?.toFixed(1) }} ΔE00 from the guess<template v-if="seen.margin !== null"
              >, which said ±{{ seen.margin?.toFixed(1) }}</template
            >.</template
          >
          <button type="button" class="word" @click="dropLook(k)">Strike out this look</button>
        </details>
      </li>
    </ol>
    <p v-else class="waits">This square waits: lay it, let it dry, then photograph it.</p>
    <button type="button" class="word framed" @click="emit('photo')">
      {{ swatch.sightings.length ? 'Photograph it again …' : 'Photograph it …' }}
    </button>
    <label class="field"
      >Or type its colour
      <TypedInput
        value=""
        placeholder="#8a6fb0, or L a b"
        aria-label="Colour that it came out, as #rrggbb or L a b"
        @typed="typeLook"
    /></label>
    <p v-if="bad" class="about" role="alert">{{ bad }}</p>
    <h2>How it was laid</h2>
    <ol class="lines">
      <li v-for="line in swatch.lines" :key="line">{{ line }}</li>
    </ol>
    <p v-if="swatch.kind" class="about">By what I know now: {{ verdictKindSaid[swatch.kind].toLowerCase() }}.</p>
    <h2>What I think of it</h2>
    <div class="verdicts" role="group" aria-label="What I think of it">
      <button
        v-for="word in ownVerdictWords"
        :key="word"
        type="button"
        class="word"
        :aria-pressed="swatch.item.verdict === word"
        @click="change({ verdict: swatch.item.verdict === word ? null : word })"
      >
        {{ ownVerdictSaid[word] }}
      </button>
    </div>
    <ElCheckbox
      :model-value="Boolean(swatch.item.surprised)"
      @update:model-value="(on) => change({ surprised: Boolean(on) })"
      >It surprised me</ElCheckbox
    >
    <div
      v-if="swatch.item.line_step !== null && swatch.item.line_step !== undefined"
      class="line"
      role="group"
      aria-label="Do you see a line here?"
    >
      <span>Do you see a line here?</span>
      <button
        type="button"
        class="word"
        :aria-pressed="swatch.item.line_seen === true"
        @click="change({ line_seen: true })"
      >
        Yes
      </button>
      <button
        type="button"
        class="word"
        :aria-pressed="swatch.item.line_seen === false"
        @click="change({ line_seen: false })"
      >
        No
      </button>
    </div>
    <label class="field"
      >Very like
      <ElSelect
        :model-value="like"
        :options="inkChoices"
        multiple
        filterable
        collapse-tags
        placeholder="no ink"
        aria-label="Inks that it is very like"
        @update:model-value="(ids: number[]) => change({ like: ids.map((id) => ({ ink_id: id, called: nameOf(id) })) })"
      />
    </label>
    <label class="field"
      >Tags, with commas <TypedInput :value="(swatch.item.tags ?? []).join(', ')" aria-label="Tags" @typed="setTags"
    /></label>
    <label class="field"
      >Notes
      <TypedInput
        :value="swatch.item.notes ?? ''"
        type="textarea"
        :rows="2"
        aria-label="Notes"
        @typed="(text: string) => change({ notes: text.slice(0, 4000) })"
    /></label>
    <ElCheckbox
      :model-value="Boolean(swatch.item.left_out)"
      @update:model-value="(on) => change({ left_out: Boolean(on) })"
      >Learn nothing from it</ElCheckbox
    >
    <div class="leads">
      <button type="button" class="word framed" :disabled="!swatch.sightings.length" @click="match">
        Match this colour
      </button>
      <button type="button" class="word framed" @click="discard(swatch.id)">Take it out of the book</button>
    </div>
  </aside>
</template>

<style scoped>
.slip {
  display: flex;
  flex-direction: column;
  gap: 6px;
  min-height: 0;
  padding: 10px 14px 14px;
  overflow-y: auto;
  border-radius: 4px;
  background: var(--slip);
}
header {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 6px;
  align-items: center;
}
.called :deep(input) {
  font: 620 21px/1.2 var(--colour-names);
}
.about,
.said,
.differs {
  margin: 0;
}
.about,
.said {
  color: var(--text-soft);
  font-size: 15px;
}
.trouble {
  margin: 0;
}
.looks {
  display: grid;
  gap: 10px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.edge {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: 1fr;
  height: 112px;
  padding: 12px;
  clip-path: polygon(0 0, calc(100% - 16px) 0, 100% 16px, 100% 100%, 0 100%);
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  padding-inline: 12px;
  font-size: 15px;
}
.looks img {
  max-width: 120px;
  max-height: 90px;
}
.figures {
  font-size: 15px;
  color: var(--text-soft);
}
.waits {
  margin: 0;
  padding: 14px;
  border: 2px dashed var(--line);
}
h2 {
  margin: 6px 0 0;
  font: 600 17px/1.2 var(--colour-names);
}
.lines {
  margin: 0;
  padding-left: 22px;
  font-size: 16px;
}
.verdicts {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: 1fr;
}
.verdicts .word {
  border: 1px solid var(--line);
}
.verdicts .word + .word {
  border-left: 0;
}
.word[aria-pressed='true'] {
  background: var(--strong);
  color: var(--on-strong);
}
.line {
  display: flex;
  align-items: center;
  gap: 6px;
}
.field {
  display: grid;
  gap: 2px;
  font-size: 15px;
}
.leads {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
</style>

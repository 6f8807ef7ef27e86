<script setup lang="ts">
/** One step at a time, to be read from two metres: what to do, how it should look, what dries meanwhile. */
import { onKeyStroke, useIntervalFn } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, useTemplateRef, watch } from 'vue'

import type { Piece, TableStep, Timer } from '@/shared/api'
import { isCommand } from '@/shared/keys'
import { useTrouble } from '@/shared/trouble'
import { useLog } from '../log/useLog'
import stillMp4 from '@/assets/awake/still.mp4?url&no-inline'
import stillWebm from '@/assets/awake/still.webm?url&no-inline'
import { ring, useAwake } from './useAwake'
import { clockSaid, lookAt, spanSaid, useTable } from './useTable'

const emit = defineEmits<{ plan: []; fault: [] }>()

/** A step ticked off so soon after another was one press too many, ms. */
const TWICE = 450
/** What dries sooner than this after it was looked at is as good as due, minutes. */
const DUE = 0.02
/** What is dry is told for so long, minutes. */
const TOLD = 3
const { run, sleeping, sound, done, dried, back, anew, end } = useTable()
const { away, count, reloadable } = sleeping
const { logIt } = useLog()
const { trouble } = useTrouble()
const clock = ref(Date.now())
useIntervalFn(() => (clock.value = Date.now()), 250)
const busy = ref(false)
const ending = ref(false)
let pressed = 0

const minute = computed(() => (run.value ? (clock.value / 1000 - run.value.began) / 60 : 0))
const under = computed(() => Boolean(run.value && !run.value.ended))
const hands = computed(() => run.value?.due.filter((step) => step.hands) ?? [])
const step = computed<TableStep | null>(() => hands.value[0] ?? null)
const next = computed<TableStep | null>(() => hands.value[1] ?? null)
const waits = computed(() => (step.value ? Math.max(0, step.value.start - minute.value) : 0))
const waiting = computed(() => waits.value > DUE)
const piece = computed<Piece | null>(() =>
  step.value && run.value ? (run.value.pieces[step.value.piece] ?? null) : null,
)
const pictured = computed(() => Boolean(piece.value?.pictured && step.value))
const timers = computed(() => (run.value?.timers ?? []).filter((timer) => timer.ends > minute.value - TOLD).slice(0, 5))
const wholeTime = computed(() => {
  const count = (run.value?.done.length ?? 0) + hands.value.length
  return count ? (run.value?.done.length ?? 0) / count : 1
})
const stays = computed(() => (run.value?.open ? run.value.open.ends - minute.value : 0))
useAwake(useTemplateRef<HTMLVideoElement>('still'), () => under.value)

// What lies below the sheet is not gone to by key while it is there.
const below = (still: boolean): void =>
  document.querySelectorAll('.page > .strip, .room > .tabs').forEach((part) => part.toggleAttribute('inert', still))
watch(under, below, { immediate: true, flush: 'post' })
// What is begun at the mat goes on though the laptop falls asleep.
watch(under, (now) => now && void sleeping.keepPage(), { immediate: true })
onBeforeUnmount(() => below(false))

// What has just become dry rings, once.
let rung = new Set<string>()
const keyOf = (timer: Timer): string => `${timer.bout} ${timer.drying}`
watch(
  () => timers.value.filter((timer) => timer.ends <= minute.value).map(keyOf),
  (dry, before) => {
    const fresh = dry.filter((key) => !rung.has(key))
    // What was dry before the page was opened is not news.
    if (fresh.length && before && sound.value) ring()
    rung = new Set(dry)
  },
)
watch(
  () => run.value?.id,
  () => (rung = new Set()),
)

async function press(what: () => Promise<boolean>): Promise<void> {
  if (busy.value) return
  busy.value = true
  await what()
  busy.value = false
}
function tick(): void {
  const now = step.value
  const at = Date.now()
  if (!now || waiting.value || at - pressed < TWICE) return
  pressed = at
  void press(() => done(now))
}
const goBack = (): void => void press(back)
/** A tap anywhere ticks off, except on what is pressed for itself. */
function tapped(event: MouseEvent): void {
  if (event.target instanceof Element && !event.target.closest('button, a, summary, details, video')) tick()
}
function log(): void {
  const now = piece.value
  if (!now) return
  if (now.kind === 'panel') logIt({ panel_id: now.ids[0] })
  else if (now.kind === 'overlap') logIt({ overlap_id: now.ids[0] })
}
async function over(): Promise<void> {
  ending.value = false
  if (await end()) emit('plan')
}

const commands = (event: KeyboardEvent): boolean => under.value && isCommand(event)
onKeyStroke([' ', 'Enter', 'ArrowRight'], (event) => {
  // On a button a space presses that.
  if (
    !commands(event) ||
    (event.key !== 'ArrowRight' && event.target instanceof Element && event.target.closest('button, a, summary'))
  )
    return
  event.preventDefault()
  tick()
})
onKeyStroke(['ArrowLeft', 'Backspace'], (event) => {
  if (!commands(event)) return
  event.preventDefault()
  goBack()
})
</script>

<template>
  <section v-if="!run || run.ended" class="none">
    <template v-if="run?.ended">
      <h1>Done</h1>
      <p>{{ run.name }}: {{ spanSaid(run.total) }} from first to last.</p>
    </template>
    <template v-else>
      <h1>Nothing is under way</h1>
      <p>Plan an evening and begin it: then you are told here, in large type, what to do next.</p>
    </template>
    <button type="button" class="deed" @click="emit('plan')">Plan an evening</button>
  </section>
  <section v-else class="run" :class="{ waiting }" @click="tapped">
    <video ref="still" muted loop playsinline class="awake" aria-hidden="true">
      <source :src="stillMp4" type="video/mp4" />
      <source :src="stillWebm" type="video/webm" />
    </video>
    <header>
      <span class="of">{{ step?.of ?? run.name }}</span>
      <span
        class="far"
        role="progressbar"
        :aria-valuenow="Math.round(100 * wholeTime)"
        aria-valuemin="0"
        aria-valuemax="100"
        aria-label="How far the evening is"
        ><i :style="{ width: `${100 * wholeTime}%` }"
      /></span>
      <span class="left">{{ run.total - minute > 0.5 ? `${spanSaid(run.total - minute)} to go` : 'nearly done' }}</span>
      <button type="button" class="word" :aria-pressed="sound" @click="sound = !sound">
        {{ sound ? 'Sound on' : 'Sound off' }}
      </button>
      <button type="button" class="word" @click="emit('fault')">Is this a fault?</button>
      <button type="button" class="word" @click="press(anew)">Plan anew from here</button>
      <button type="button" class="word" @click="emit('plan')">Leave the mat</button>
      <button type="button" class="word" @click="ending = !ending">End</button>
    </header>
    <p v-if="trouble" class="said" role="alert">{{ trouble }}</p>
    <p v-if="away" class="said" role="status">
      The laptop does not answer. Go on: {{ count === 1 ? 'one step is' : `${count} steps are` }} kept here and told to
      it when it is back. {{ reloadable ? '' : 'Until then do not reload this page. ' }}What begins to dry meanwhile has
      no timer.
    </p>
    <p v-for="note in run.notes" :key="note" class="said" role="status">{{ note }}</p>
    <p v-if="ending" class="said">
      End this evening here? What was done is kept. <button type="button" class="deed" @click="over">End it</button>
      <button type="button" class="word framed" @click="ending = false">Go on</button>
    </p>
    <div class="body">
      <div v-if="step" class="words" aria-live="polite">
        <template v-if="waiting">
          <p class="label">Your hands are free</p>
          <p class="big count" role="timer">{{ clockSaid(waits) }}</p>
          <p class="why">Then: {{ step.text }}</p>
        </template>
        <template v-else>
          <p class="label">
            <span
              v-for="(ink, n) in ['open_pads', 'close_pads'].includes(step.do) ? [] : step.inks"
              :key="n"
              class="chip"
              :style="{ background: ink.hex }"
              aria-hidden="true"
            />{{ step.label }}<span v-if="step.minutes >= 0.4" class="takes">about {{ spanSaid(step.minutes) }}</span>
          </p>
          <p class="big">{{ step.text }}</p>
          <p v-if="run.open && stays > 0" class="open">
            {{ run.open.name }} stays open: <b>{{ clockSaid(stays) }}</b>
          </p>
          <p v-else-if="run.open" class="open">
            {{ run.open.name }} has closed by now: go over its edge once more, lightly, before you mix into it.
          </p>
          <p v-if="step.caution" class="caution"><b>Mind:</b> {{ step.caution }}</p>
          <p v-if="step.why" class="why">{{ step.why }}</p>
          <button v-if="step.do === 'log' && piece?.kind !== 'squares'" type="button" class="deed" @click="log">
            Log it in the swatch book
          </button>
        </template>
      </div>
      <div v-else class="words">
        <p class="big">All is done. {{ timers.length ? 'What is still wet dries by itself.' : '' }}</p>
        <button type="button" class="deed" @click="over">End the evening</button>
      </div>
      <div v-if="pictured && piece && step" class="looks">
        <figure>
          <img :src="lookAt(piece, step.laid, true)" :alt="`${piece.name} after this step, wet`" />
          <figcaption>now, wet</figcaption>
        </figure>
        <figure>
          <img :src="lookAt(piece, null, false)" :alt="`${piece.name} when all is done and dry`" />
          <figcaption>in the end, dry</figcaption>
        </figure>
      </div>
    </div>
    <ul v-if="timers.length" class="timers" aria-label="What dries">
      <li v-for="timer in timers" :key="keyOf(timer)" :class="{ dry: timer.ends <= minute }">
        <span class="time">{{ timer.ends <= minute ? 'dry' : clockSaid(timer.ends - minute) }}</span>
        <span>{{ timer.of }}</span>
        <button v-if="timer.ends > minute" type="button" class="word framed" @click="press(() => dried(timer))">
          Dry already
        </button>
      </li>
    </ul>
    <footer>
      <button type="button" class="go" :disabled="!run.done.length || busy" @click="goBack">◂ Back</button>
      <p class="then">{{ waiting ? '' : next ? `Then: ${next.text}` : '' }}</p>
      <button type="button" class="go deed" :disabled="!step || waiting || busy" @click="tick">Done ▸</button>
    </footer>
  </section>
</template>

<style scoped>
.none {
  padding: 30px 20px;
  background: var(--slip);
}
.none h1 {
  margin: 0;
  font: 640 28px/1.15 var(--colour-names);
}
.run {
  position: fixed;
  inset: 0;
  z-index: 20;
  display: flex;
  flex-direction: column;
  padding: 6px 18px 12px;
  background: var(--ground);
  cursor: pointer;
}
.awake {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0.01;
  pointer-events: none;
}
header {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 46px;
}
.of {
  overflow: hidden;
  font: 640 24px/1.1 var(--colour-names);
  text-overflow: ellipsis;
  white-space: nowrap;
}
.far {
  flex: 1;
  min-width: 40px;
  max-width: 190px;
  height: 10px;
  margin-left: auto;
  border: 1px solid var(--text);
}
.far i {
  display: block;
  height: 100%;
  background: var(--text);
}
.left {
  white-space: nowrap;
}
header .word {
  padding: 0 7px;
  font-size: 15px;
}
.said {
  margin: 4px 0;
  padding: 6px 12px;
  border-left: 4px double var(--text);
  background: var(--slip);
}
.body {
  flex: 1;
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 22px;
  min-height: 0;
}
.words {
  min-height: 0;
  overflow-y: auto;
}
.label {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
  margin: 8px 0 2px;
  font-size: 24px;
  font-weight: 700;
}
.chip {
  width: 54px;
  height: 34px;
}
.takes {
  font-weight: 400;
}
.big {
  margin: 0 0 10px;
  font-size: clamp(40px, 4.1vw, 56px);
  line-height: 1.14;
  text-wrap: pretty;
}
.count {
  font-size: clamp(90px, 14vw, 190px);
  font-variant-numeric: tabular-nums;
  line-height: 1;
}
.why,
.open,
.caution {
  max-width: 60ch;
  margin: 6px 0;
  font-size: 22px;
}
.open {
  font-size: 26px;
}
.caution {
  padding-left: 12px;
  border-left: 5px double var(--text);
}
.looks {
  display: flex;
  gap: 12px;
  min-height: 0;
  padding-top: 8px;
}
figure {
  display: flex;
  flex-direction: column;
  min-height: 0;
  margin: 0;
}
img {
  min-height: 0;
  max-height: 100%;
  max-width: min(19vw, 250px);
  object-fit: contain;
  object-position: top;
  box-shadow: 0 2px 10px var(--shadow);
}
figcaption {
  padding-top: 4px;
  font-size: 17px;
}
.timers {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 6px 0;
  padding: 0;
  list-style: none;
}
.timers li {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 48px;
  padding: 2px 6px 2px 12px;
  border: 2px solid var(--line);
  background: var(--slip);
  cursor: default;
}
.timers .dry {
  border: 4px double var(--text);
  background: var(--raised);
  animation: tell 0.7s ease-in-out 4 alternate;
}
.time {
  min-width: 3ch;
  font-size: 28px;
  font-weight: 700;
  font-variant-numeric: tabular-nums;
}
footer {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 16px;
  align-items: center;
}
.go {
  min-width: 150px;
  min-height: 74px;
  border: 2px solid var(--text);
  border-radius: 6px;
  background: none;
  font-size: 26px;
  font-weight: 600;
  cursor: pointer;
}
.go.deed {
  min-width: 240px;
  background: var(--strong);
  color: var(--on-strong);
}
.go:disabled {
  opacity: 0.45;
  cursor: default;
}
.then {
  overflow: hidden;
  margin: 0;
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  font-size: 19px;
  color: var(--text-soft);
}
@keyframes tell {
  from {
    outline: 0 solid var(--text);
  }
  to {
    outline: 6px solid var(--text);
  }
}
@media (prefers-reduced-motion: reduce) {
  .timers .dry {
    animation: none;
  }
}
@media (max-width: 820px) {
  .run {
    padding: 4px 10px 8px;
    overflow-y: auto;
  }
  header {
    flex-wrap: wrap;
  }
  .body {
    flex: none;
    grid-template-columns: 1fr;
    margin-bottom: 8px;
  }
  .words {
    overflow: visible;
  }
  .big {
    font-size: 40px;
  }
  img {
    max-width: 40vw;
    max-height: 30vh;
  }
  .go,
  .go.deed {
    min-width: 96px;
  }
  .then {
    display: none;
  }
  footer {
    position: sticky;
    bottom: 0;
    grid-template-columns: auto 1fr;
    background: var(--ground);
  }
}
</style>

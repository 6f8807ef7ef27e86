<script setup lang="ts">
/** What the book teaches: learn, see what it comes to in plain words, go by it, or no longer. */
import { ElProgress } from 'element-plus'
import { onBeforeUnmount } from 'vue'

import { useLog } from './useLog'

const emit = defineEmits<{ open: [id: number] }>()
// Sentences that are told at once; hands and the largest come first.
const FIRST = 8
const { book, learned, learning, done, learn, stopLearning, adopt, takeLine, takeBack, openSwatch } = useLog()

onBeforeUnmount(stopLearning)

async function show(id: number): Promise<void> {
  if (await openSwatch(id)) emit('open', id)
}
const dayOf = (at: string | undefined): string =>
  at ? new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' }) : ''
</script>

<template>
  <section class="learn">
    <div class="page">
      <h1>What your swatches teach</h1>
      <p class="lead">
        Every logged swatch says something of your hand, your inks and your card. I look for what would have predicted
        them best, and check it on swatches that I leave out.
      </p>
      <div class="do">
        <template v-if="learning">
          <ElProgress
            :percentage="Math.round(100 * done)"
            :stroke-width="12"
            :show-text="false"
            class="bar"
            aria-label="How far the learning is"
          />
          <button type="button" class="word framed" @click="stopLearning">Stop</button>
        </template>
        <button v-else type="button" class="deed" :disabled="!book?.count" @click="learn">
          Learn from {{ book?.count ?? 0 }} swatches
        </button>
      </div>
      <div v-if="learned && !learning" class="found">
        <template v-if="learned.better">
          <h2>What I learned</h2>
          <div class="do">
            <p class="gain">
              <b>{{ learned.gain }}</b>
            </p>
            <button type="button" class="deed" @click="adopt">Go by this from now on</button>
          </div>
          <ul class="texts">
            <li v-for="text in learned.texts.slice(0, FIRST)" :key="text">{{ text }}</li>
          </ul>
          <details v-if="learned.texts.length > FIRST">
            <summary>{{ learned.texts.length - FIRST }} smaller things</summary>
            <ul class="texts">
              <li v-for="text in learned.texts.slice(FIRST)" :key="text">{{ text }}</li>
            </ul>
          </details>
          <p v-if="!learned.texts.length">Many small things, none of them worth a sentence.</p>
        </template>
        <p v-for="note in learned.notes" :key="note.text" class="note">{{ note.text }}</p>
        <template v-if="learned.off.length">
          <h2>Look at these again</h2>
          <ul class="texts">
            <li v-for="each in learned.off" :key="each.swatch_id">
              <button type="button" class="link" @click="show(each.swatch_id)">{{ each.name }}</button>. {{ each.text }}
            </li>
          </ul>
        </template>
        <details v-if="learned.left_out.length" class="figures">
          <summary>{{ learned.left_out.length }} not learned from</summary>
          <p v-for="each in learned.left_out" :key="each.swatch_id">
            <button type="button" class="link" @click="show(each.swatch_id)">{{ each.name }}</button>: {{ each.text }}
          </p>
        </details>
        <details class="figures">
          <summary>The figures</summary>
          Swatches left out are missed by {{ learned.before.toFixed(1) }} ΔE00 as things stood and by
          {{ learned.after.toFixed(1) }} by what the others teach; those learned from by
          {{ learned.fit_before.toFixed(1) }} and {{ learned.fit_after.toFixed(1) }}.
        </details>
      </div>
    </div>
    <aside class="side">
      <template v-if="book?.drifts.length">
        <h2>Not what it was</h2>
        <p v-for="note in book.drifts" :key="note.ink_id" class="note">{{ note.text }}</p>
      </template>
      <template v-if="book?.offers.length">
        <h2>Your own lines</h2>
        <div v-for="offer in book.offers" :key="offer.of" class="offer">
          <p>{{ offer.text }}</p>
          <button type="button" class="word framed" @click="takeLine(offer.of)">
            {{ offer.of === 'mud_line' ? 'Call it mud from there' : 'Warn of a line from there' }}
          </button>
          <details class="figures">
            <summary>The figures</summary>
            {{
              offer.of === 'mud_line'
                ? `Mud from ${offer.at} of 100 instead of ${offer.now}.`
                : `A line from ${offer.at} ΔE00 a millimetre instead of ${offer.now}.`
            }}
          </details>
        </div>
      </template>
      <h2>What I go by</h2>
      <p v-if="!book?.lessons.length" class="soft">So far what is usual: nothing was adopted yet.</p>
      <ol class="lessons">
        <li v-for="lesson in book?.lessons ?? []" :key="lesson.id" :class="{ off: !lesson.standing }">
          <b>{{ lesson.item.name }}</b>
          <span class="soft"
            >{{ dayOf(lesson.item.at)
            }}{{
              lesson.standing ? ', in force' : lesson.item.taken_back ? ', taken back' : ', followed by a newer one'
            }}</span
          >
          <button v-if="lesson.standing" type="button" class="word framed" @click="takeBack(lesson.id)">
            Take it back
          </button>
          <details class="figures">
            <summary>What it says</summary>
            <p v-for="text in lesson.item.texts ?? []" :key="text">{{ text }}</p>
            <template v-if="lesson.gain">{{ lesson.gain }} ΔE00</template>
          </details>
        </li>
      </ol>
      <template v-if="book?.stands_in.length">
        <h2>What stands in for what</h2>
        <p v-for="note in book.stands_in" :key="note.text" class="note">
          <b>{{ note.name }}</b>: {{ note.text }}
        </p>
      </template>
    </aside>
  </section>
</template>

<style scoped>
.learn {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  gap: 18px;
  min-height: 0;
}
.page,
.side {
  min-height: 0;
  padding: 14px 20px;
  overflow-y: auto;
  background: var(--slip);
}
h1 {
  margin: 0;
  font: 640 28px/1.15 var(--colour-names);
}
h2 {
  margin: 14px 0 4px;
  font: 620 20px/1.2 var(--colour-names);
}
.side h2:first-child {
  margin-top: 0;
}
.lead {
  max-width: 62ch;
  margin: 6px 0 12px;
  font-size: 18px;
}
.do {
  display: flex;
  align-items: center;
  gap: 14px;
  min-height: 52px;
}
.bar {
  flex: 1;
  max-width: 420px;
}
.gain {
  margin: 0 0 4px;
  font-size: 19px;
}
.texts {
  margin: 0 0 12px;
  padding-left: 22px;
  font-size: 18px;
  line-height: 1.45;
  columns: 2 330px;
  column-gap: 34px;
}
.note,
.offer p {
  margin: 0 0 6px;
  padding-left: 10px;
  border-left: 3px solid var(--line);
}
.lessons {
  display: grid;
  gap: 10px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.lessons li {
  display: grid;
  justify-items: start;
  padding-left: 10px;
  border-left: 4px solid var(--text);
}
.lessons li.off {
  border-left-style: dotted;
}
.soft,
.figures {
  font-size: 15px;
  color: var(--text-soft);
}
@media (max-width: 1100px) {
  .learn {
    grid-template-columns: minmax(0, 1fr) 280px;
  }
}
@media (max-width: 820px) {
  .learn {
    grid-template-columns: 1fr;
  }
}
</style>

<script setup lang="ts">
/** What is brought to the table, how one works, and the evening that comes of it. */
import { ElProgress, ElSelect } from 'element-plus'
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'

import { saveFile } from '@/shared/files'
import type { Choosable } from '@/shared/api'
import { at, router } from '@/shared/router'
import { useStash } from '../stash/useStash'
import StepList from './StepList.vue'
import TimeLine from './TimeLine.vue'
import { spanSaid, useTable } from './useTable'

/** The solver looks for so long at most, and some of it goes before and after. */
const LONGEST_S = 4.5
const { attempt } = useStash()
const { table, evening, run, planning, picked, choices, chosen, habits, keyOf, pick, plan, begin } = useTable()

const spent = ref(0)
const { pause, resume } = useIntervalFn(() => (spent.value = Math.min(0.97, spent.value + 0.1 / LONGEST_S)), 100, {
  immediate: false,
})
watch(planning, (now) => {
  spent.value = 0
  if (now) resume()
  else pause()
})
const kinds: { kind: Choosable['kind']; said: string }[] = [
  { kind: 'panel', said: 'Panels' },
  { kind: 'overlap', said: 'Overlaps, as test squares' },
  { kind: 'squares', said: 'Squares that wait' },
]
const groups = computed(() =>
  kinds
    .map((each) => ({ ...each, all: choices.value.filter((one) => one.kind === each.kind) }))
    .filter((each) => each.all.length),
)
const changed = computed(() => (evening.value?.pieces ?? []).map((piece) => piece.changed).filter(Boolean))
const same = computed(() => {
  const planned = (evening.value?.pieces ?? []).map((piece) => `${piece.kind} ${piece.ids.join(',')}`).sort()
  const schools = table.value?.schools.every(
    (school) =>
      habits.value[school.key as keyof typeof habits.value] ===
      evening.value?.habits[school.key as keyof typeof habits.value],
  )
  return Boolean(evening.value) && schools && planned.join() === chosen.value.map(keyOf).sort().join()
})
const saved = computed(() => (evening.value ? evening.value.naive_total - evening.value.total : 0))
const schoolChoices = (school: { choices: { code: string; text: string }[] }): { value: string; label: string }[] =>
  school.choices.map((each) => ({ value: each.code, label: each.text }))
const set = (key: string, value: string): void => {
  habits.value = { ...habits.value, [key]: value }
}
</script>

<template>
  <section class="plan">
    <aside class="bring">
      <h2>Bring to the table</h2>
      <p v-if="!choices.length" class="soft">
        There is nothing to make yet. Plan a
        <button type="button" class="link" @click="router.push(at('panel'))">panel</button> or lay an
        <button type="button" class="link" @click="router.push(at('overlap'))">overlap</button>.
      </p>
      <template v-for="group in groups" :key="group.kind">
        <h3>{{ group.said }}</h3>
        <button
          v-for="each in group.all"
          :key="keyOf(each)"
          type="button"
          class="piece"
          :aria-pressed="picked.includes(keyOf(each)) && !each.trouble"
          :disabled="Boolean(each.trouble)"
          :title="each.trouble || undefined"
          @click="pick(each)"
        >
          <span class="tick" aria-hidden="true">{{ picked.includes(keyOf(each)) && !each.trouble ? '✓' : '' }}</span>
          <span class="bits" :style="{ background: each.card }"
            ><i v-for="(colour, n) in each.shown" :key="n" :style="{ background: colour }"
          /></span>
          <span class="name"
            >{{ each.name }}<small>{{ each.trouble || each.about }}</small></span
          >
        </button>
      </template>
    </aside>
    <div class="made">
      <div class="how">
        <label v-for="school in table?.schools ?? []" :key="school.key" :title="school.reason">
          <span>{{ school.label }}</span>
          <ElSelect
            :model-value="habits[school.key as keyof typeof habits]"
            :options="schoolChoices(school)"
            :aria-label="school.label"
            @update:model-value="(value: string) => set(school.key, value)"
          />
        </label>
      </div>
      <details class="figures reasons">
        <summary>Why these are the usual ways</summary>
        <p v-for="school in table?.schools ?? []" :key="school.key">
          <b>{{ school.label }}.</b> {{ school.reason }}
        </p>
      </details>
      <div class="do">
        <template v-if="planning">
          <ElProgress
            :percentage="Math.round(100 * spent)"
            :stroke-width="12"
            :show-text="false"
            class="bar"
            aria-label="How far the planning is"
          />
          <span>Putting {{ chosen.length === 1 ? 'it' : `${chosen.length} pieces` }} in order …</span>
        </template>
        <template v-else>
          <button type="button" class="deed" :class="{ quiet: same }" :disabled="!chosen.length" @click="plan">
            {{
              same
                ? 'Plan it anew'
                : chosen.length
                  ? `Plan ${chosen.length === 1 ? chosen[0]?.name : `${chosen.length} pieces`}`
                  : 'Choose what to make'
            }}
          </button>
          <button v-if="evening && same && !run" type="button" class="deed" @click="begin(false)">
            Begin at the mat
          </button>
          <button
            v-if="evening"
            type="button"
            class="word framed"
            @click="attempt(() => saveFile(`/api/evenings/${evening?.id}/sheet.pdf`))"
          >
            Print the steps
          </button>
          <span v-if="run" class="soft">A run is under way: end it before the next begins.</span>
        </template>
      </div>
      <template v-if="evening && !planning">
        <p class="sum">
          <b>{{ spanSaid(evening.at_mat) }}</b> at the mat, all dry after <b>{{ spanSaid(evening.total) }}</b>.
          <template v-if="saved >= 1">One after another it would be {{ spanSaid(evening.naive_total) }}.</template>
          {{
            evening.wipes ? `A brush or foam is cleaned ${evening.wipes}×.` : 'No brush has to be cleaned in between.'
          }}
        </p>
        <p v-for="text in changed" :key="text" class="note" role="alert">
          {{ text }} <button type="button" class="word framed" @click="plan">Plan anew</button>
          <button v-if="!run" type="button" class="word framed" @click="begin(true)">Begin all the same</button>
        </p>
        <TimeLine :evening="evening" />
        <p v-for="note in evening.notes" :key="note.text" class="note">{{ note.text }}</p>
        <p v-for="text in evening.cautions" :key="text" class="caution"><b>Mind:</b> {{ text }}</p>
        <StepList :steps="evening.steps" />
        <details class="figures">
          <summary>The figures</summary>
          {{ evening.total.toFixed(1) }} min on the wall and {{ evening.at_mat.toFixed(1) }} with busy hands; one piece
          after another {{ evening.naive_total.toFixed(1) }} and {{ evening.naive_at_mat.toFixed(1) }}.
          {{
            evening.gap
              ? `No order with these brushes ends more than ${(100 * evening.gap).toFixed(1)} % sooner.`
              : 'No order with these brushes ends sooner: that is proven.'
          }}
        </details>
      </template>
      <div v-else-if="!planning" class="begin">
        <h1>What do I do now, with which brush, and how long do I wait?</h1>
        <p>
          Choose what you want to make tonight. Wempa puts the work in an order in which you wait and wipe as little as
          can be, and then tells you step by step what to do.
        </p>
      </div>
    </div>
  </section>
</template>

<style scoped>
.plan {
  display: grid;
  grid-template-columns: 306px minmax(0, 1fr);
  gap: 16px;
  min-height: 0;
}
.bring,
.made {
  min-height: 0;
  overflow-y: auto;
}
.bring {
  padding: 0 4px 10px;
}
.made {
  padding: 12px 18px 18px;
  background: var(--slip);
}
h2 {
  margin: 4px 0 6px;
  font: 620 20px/1.2 var(--colour-names);
}
h3 {
  margin: 12px 0 4px;
  font-size: 15px;
  font-weight: 600;
  color: var(--text-soft);
}
.piece {
  display: grid;
  grid-template-columns: 22px 54px minmax(0, 1fr);
  gap: 9px;
  align-items: center;
  width: 100%;
  min-height: 56px;
  margin-bottom: 4px;
  padding: 5px 8px 5px 4px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  text-align: left;
  cursor: pointer;
}
.piece:hover:not(:disabled),
.piece[aria-pressed='true'] {
  border-color: var(--text);
  background: var(--slip);
}
.piece:disabled {
  cursor: default;
  opacity: 0.6;
}
.tick {
  font-weight: 700;
  text-align: center;
}
.bits {
  display: flex;
  width: 54px;
  height: 38px;
  padding: 3px;
}
.bits i {
  flex: 1;
}
.name {
  overflow: hidden;
  line-height: 1.2;
}
.name small {
  display: block;
  font-size: 14px;
  color: var(--text-soft);
}
.how {
  display: grid;
  grid-template-columns: repeat(5, minmax(0, 1fr));
  gap: 10px;
}
.how span {
  display: block;
  overflow: hidden;
  font-size: 14px;
  color: var(--text-soft);
  text-overflow: ellipsis;
  white-space: nowrap;
}
.how :deep(.el-select__wrapper) {
  min-height: 42px;
  padding-inline: 9px;
  font-size: 15px;
}
.reasons {
  margin-top: 6px;
}
.reasons p {
  max-width: 86ch;
  margin: 4px 0;
}
.do {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 12px;
  min-height: 66px;
}
.bar {
  flex: 1;
  max-width: 420px;
}
.quiet {
  border-color: var(--line);
  background: none;
  color: inherit;
}
.sum {
  margin: 0 0 8px;
  font-size: 19px;
}
.note,
.caution {
  max-width: 86ch;
  margin: 8px 0;
  padding-left: 10px;
  border-left: 3px solid var(--line);
}
.caution {
  border-left: 4px double var(--text);
}
.soft,
.figures {
  font-size: 15px;
  color: var(--text-soft);
}
.begin {
  max-width: 56ch;
  padding: 26px 8px;
  font-size: 18px;
}
.begin h1 {
  margin: 0 0 8px;
  font: 640 28px/1.15 var(--colour-names);
}
@media (max-width: 1100px) {
  .plan {
    grid-template-columns: 250px minmax(0, 1fr);
  }
  .how {
    grid-template-columns: repeat(3, minmax(0, 1fr));
  }
}
@media (max-width: 820px) {
  .plan {
    grid-template-columns: 1fr;
  }
  .how {
    grid-template-columns: 1fr 1fr;
  }
}
</style>

<script setup lang="ts">
/** The formula guide: how each formula behaves, said from the craft table. */
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, need, type GuideFormula } from '@/shared/api'
import { useStash } from './useStash'
import { type Formula, formulaSaid } from '../../generated/words'

const { attempt, inks } = useStash()
const guide = shallowRef<GuideFormula[]>([])
const chosen = ref<Formula>('dye')
const page = computed(() => guide.value.find((each) => each.formula === chosen.value) ?? null)
const samples = computed(() =>
  inks.value.filter((ink) => ink.formula === chosen.value && ink.item.standing === 'owned').slice(0, 14),
)
const numbers = (line: GuideFormula['lines'][number]): string =>
  line.numbers
    .map((n) =>
      `${n.column.replace('_', ' ')} ${Math.round(n.value * 100) / 100} ${['s', 'min'].includes(n.unit) ? n.unit : ''}`.trim(),
    )
    .join('; ')

onMounted(() =>
  attempt(async () => {
    guide.value = await need(api.GET('/api/guide'))
  }),
)
</script>

<template>
  <main class="guide">
    <nav aria-label="Formulas">
      <button
        v-for="each in guide"
        :key="each.formula"
        type="button"
        :aria-pressed="chosen === each.formula"
        @click="chosen = each.formula"
      >
        {{ formulaSaid[each.formula] }}
        <small>{{ each.ranges.join(', ') || 'none in the stash' }}</small>
      </button>
    </nav>
    <article v-if="page" tabindex="0">
      <header>
        <h1>{{ formulaSaid[page.formula] }}</h1>
        <div class="samples" aria-hidden="true">
          <span v-for="ink in samples" :key="ink.id" :style="{ backgroundColor: ink.hex }"></span>
        </div>
      </header>
      <dl>
        <template v-for="line in page.lines" :key="line.aspect">
          <dt>{{ line.aspect }}</dt>
          <dd>
            {{ line.text }}
            <small v-if="line.numbers.length">{{ numbers(line) }}</small>
            <p v-for="(text, name) in line.own" :key="name" class="own">
              <b>{{ name }}, by your own numbers:</b> {{ text }}
            </p>
          </dd>
        </template>
      </dl>
      <p class="care">
        Said from Wempa's table of defaults, which your own ranges override. The maker's label and safety sheet come
        first; heat tools burn, embossing and sprays want fresh air.
      </p>
    </article>
  </main>
</template>

<style scoped>
.guide {
  display: grid;
  grid-template-columns: 236px minmax(0, 1fr);
  gap: 22px;
  height: 100%;
  min-height: 0;
  padding: 4px 14px 10px;
}
nav {
  display: grid;
  align-content: start;
  gap: 3px;
}
nav button {
  display: grid;
  min-height: 56px;
  padding: 6px 10px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  font: 600 20px/1.15 var(--colour-names);
  text-align: left;
  text-transform: capitalize;
  cursor: pointer;
}
nav button:hover {
  border-color: var(--line);
}
nav button[aria-pressed='true'] {
  border-color: var(--text);
  background: var(--raised);
}
nav small {
  font: 400 15px/1.2 var(--body);
  color: var(--text-soft);
  text-transform: none;
}
article {
  max-width: 860px;
  min-height: 0;
  padding: 0 26px 18px;
  overflow-y: auto;
  background: var(--slip);
}
header {
  display: flex;
  align-items: end;
  justify-content: space-between;
  gap: 20px;
}
h1 {
  margin: 14px 0 8px;
  font: 640 34px/1.1 var(--colour-names);
  text-transform: capitalize;
}
.samples {
  display: flex;
  gap: 3px;
  margin-bottom: 10px;
}
.samples span {
  width: 26px;
  height: 34px;
}
dl {
  display: grid;
  grid-template-columns: 116px 1fr;
  gap: 11px 18px;
  margin: 0;
}
dt {
  font-weight: 700;
}
dd {
  margin: 0;
  font-size: 18px;
  line-height: 1.35;
}
dd small {
  display: block;
  font-size: 14px;
  color: var(--text-soft);
}
.own {
  margin: 4px 0 0;
  padding-left: 10px;
  border-left: 4px double var(--text);
}
.care {
  font-size: 15px;
  color: var(--text-soft);
}
@media (max-width: 820px) {
  .guide {
    grid-template-columns: 1fr;
    height: auto;
  }
}
</style>

<script setup lang="ts">
/** Which formula is it? Five things to look at, a formula with its chance at the end. */
import { ElButton } from 'element-plus'
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, need, type TestFinding, type TestStep } from '@/shared/api'
import { useNewest } from '@/shared/newest'
import { useStash } from './useStash'
import { type Formula, formulaSaid, type HomeTestSign } from '../../generated/words'
import SheetDialog from '@/shared/SheetDialog.vue'

const { name } = defineProps<{ name: string }>()
const emit = defineEmits<{ close: []; take: [formula: Formula] }>()
const { attempt } = useStash()

const steps = shallowRef<TestStep[]>([])
const seen = ref<Partial<Record<HomeTestSign, boolean>>>({})
const finding = shallowRef<TestFinding | null>(null)
const done = computed(() => Object.keys(seen.value).length)

const fetchFinding = useNewest(
  () => need(api.POST('/api/home-test', { body: seen.value as Record<string, boolean> })),
  (found) => (finding.value = found),
)
const weigh = (): Promise<boolean> => attempt(fetchFinding)

async function answer(step: TestStep, yes: boolean | null): Promise<void> {
  const others = Object.fromEntries(Object.entries(seen.value).filter(([key]) => key !== step.observation))
  seen.value = yes === null ? others : { ...others, [step.observation]: yes }
  await weigh()
}

const percent = (chance: number): string => (chance < 0.01 ? 'under 1 %' : `${Math.round(chance * 100)} %`)

onMounted(async () => {
  await attempt(async () => {
    steps.value = await need(api.GET('/api/home-test'))
  })
  await weigh()
})
</script>

<template>
  <SheetDialog :title="`What is ${name} made of?`" @close="emit('close')">
    <div class="test">
      <ol>
        <li v-for="step in steps" :key="step.observation">
          <p class="do">{{ step.do }}</p>
          <div class="ask" role="group" :aria-label="step.ask">
            <span>{{ step.ask }}</span>
            <button type="button" :aria-pressed="seen[step.observation] === true" @click="answer(step, true)">
              {{ step.yes }}
            </button>
            <button type="button" :aria-pressed="seen[step.observation] === false" @click="answer(step, false)">
              {{ step.no }}
            </button>
            <button type="button" :aria-pressed="seen[step.observation] === undefined" @click="answer(step, null)">
              Not sure
            </button>
          </div>
        </li>
      </ol>
      <aside v-if="finding" aria-live="polite">
        <h3>{{ done === 0 ? 'Before you look' : done < 5 ? `After ${done} of 5` : 'What it says' }}</h3>
        <div v-for="one in finding.chances" :key="one.formula" class="chance">
          <span>{{ formulaSaid[one.formula] }}</span>
          <span class="bar"><span :style="{ width: `${one.chance * 100}%` }"></span></span>
          <span>{{ percent(one.chance) }}</span>
        </div>
        <template v-if="done > 0">
          <p v-if="finding.formula === 'unknown'">
            No formula is likelier than all others together. Go on, or leave it unknown.
          </p>
          <p v-else>
            Most likely a <b>{{ formulaSaid[finding.formula] }}</b>. Wempa then counts with:
          </p>
          <ul v-if="finding.formula !== 'unknown'" class="implied">
            <li v-for="one in finding.implied" :key="one.column">
              {{ one.column.replace('_', ' ') }} {{ Math.round(one.value * 100) / 100 }} <small>{{ one.unit }}</small>
            </li>
          </ul>
          <ElButton type="primary" size="large" @click="emit('take', finding.formula)">
            {{ finding.formula === 'unknown' ? 'Leave it unknown' : `Take it for a ${formulaSaid[finding.formula]}` }}
          </ElButton>
        </template>
        <p class="care">Gloves if your skin is sensitive; the maker's label comes first.</p>
      </aside>
    </div>
  </SheetDialog>
</template>

<style scoped>
.test {
  display: grid;
  grid-template-columns: 1fr 330px;
  gap: 28px;
}
ol {
  display: grid;
  gap: 13px;
  margin: 0;
  padding-left: 26px;
}
.do {
  margin: 0 0 4px;
  font-size: 19px;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}
.ask span {
  width: 100%;
}
.ask button {
  min-height: 44px;
  padding: 0 14px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--raised);
  cursor: pointer;
}
.ask button[aria-pressed='true'] {
  border: 2px solid var(--text);
  font-weight: 700;
}
h3 {
  margin: 0 0 8px;
}
.chance {
  display: grid;
  grid-template-columns: 104px 1fr 78px;
  align-items: center;
  gap: 8px;
  min-height: 30px;
}
.bar {
  height: 14px;
  border: 1px solid var(--line);
}
.bar span {
  display: block;
  height: 100%;
  background: var(--text);
}
.implied {
  margin: 0 0 12px;
  padding-left: 20px;
}
.care {
  font-size: 15px;
  color: var(--text-soft);
}
@media (max-width: 820px) {
  .test {
    grid-template-columns: 1fr;
  }
}
</style>

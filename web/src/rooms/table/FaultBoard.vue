<script setup lang="ts">
/** Is this a fault? What evens out by itself and when, what does not, and what may be done about it. */
import { ElSelect } from 'element-plus'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'

import NumberBox from '@/shared/NumberBox.vue'
import { api, need, type Choosable, type FaultTold, type Schemas, type SpotAt } from '@/shared/api'
import { choices } from '@/shared/choices'
import { useNewest } from '@/shared/newest'
import { at, router } from '@/shared/router'
import { useStash } from '../stash/useStash'
import FaultPicture from './FaultPicture.vue'
import { spanSaid, useTable } from './useTable'
import WetPhoto from './WetPhoto.vue'
import { type Fault, faultSaid, faultWords, type Towards, towardsSaid, towardsWords } from '../../generated/words'

const { attempt } = useStash()
const { table, run, keyOf } = useTable()

const all = computed(() => (table.value?.choices ?? []).filter((each) => !each.trouble))
const pieceKey = ref('')
const piece = computed(() => all.value.find((each) => keyOf(each) === pieceKey.value) ?? null)
const pieceChoices = computed(() => all.value.map((each) => ({ value: keyOf(each), label: each.name })))
const spots = shallowRef<SpotAt[]>([])
const place = ref(0)
const fault = ref<Fault | null>(null)
const towards = ref<Towards>('cooler')
const ago = ref(0)
const told = shallowRef<FaultTold | null>(null)
const spot = computed(() => spots.value[place.value] ?? null)
const towardsChoices = choices(towardsWords, towardsSaid)
const shooting = ref(false)

const fetchSpots = useNewest(
  (query: { kind: Choosable['kind']; ids: number[] }) => need(api.GET('/api/table/spots', { params: { query } })),
  (found) => {
    spots.value = found
    place.value = Math.min(place.value, Math.max(0, found.length - 1))
  },
)
async function look(): Promise<void> {
  const now = piece.value
  if (now) await attempt(() => fetchSpots({ kind: now.kind, ids: now.ids }))
}
const fetchFault = useNewest(
  (body: Schemas['FaultIn']) => need(api.POST('/api/table/fault', { body })),
  (found) => (told.value = found),
)
async function judge(): Promise<void> {
  const now = piece.value
  if (!now || !fault.value) return
  const body = {
    fault: fault.value,
    piece: { kind: now.kind, ids: now.ids },
    place: place.value,
    minutes_ago: ago.value,
    ...(fault.value === 'off_hue' ? { towards: towards.value } : {}),
  }
  await attempt(() => fetchFault(body))
}
watch(pieceKey, () => {
  place.value = 0
  told.value = null
  void look().then(judge)
})
watch([place, fault, towards, ago], () => void judge())
onMounted(() => {
  // What is on the mat comes first.
  const step = run.value?.due.find((each) => each.hands)
  const on = step && run.value ? run.value.pieces[step.piece] : null
  pieceKey.value =
    (on && all.value.some((each) => keyOf(each) === keyOf(on)) ? keyOf(on) : pieceChoices.value[0]?.value) ?? ''
})
</script>

<template>
  <section class="faults">
    <div class="ask">
      <div class="where">
        <label
          ><span>On</span><ElSelect v-model="pieceKey" :options="pieceChoices" aria-label="On which piece"
        /></label>
        <label
          ><span>Laid, minutes ago</span
          ><NumberBox v-model="ago" :min="0" :max="600" :step="1" aria-label="Laid how many minutes ago"
        /></label>
        <button v-if="piece?.kind === 'panel'" type="button" class="word framed" @click="shooting = true">
          From a photo of it, wet …
        </button>
      </div>
      <div v-if="spots.length" class="spots" role="group" aria-label="Where">
        <button
          v-for="each in spots"
          :key="each.place"
          type="button"
          :aria-pressed="place === each.place"
          @click="place = each.place"
        >
          <i :style="{ background: each.hex }" />{{ each.name }}
        </button>
      </div>
      <h2>What do you see?</h2>
      <div class="pictures" role="group" aria-label="What you see">
        <button
          v-for="word in faultWords"
          :key="word"
          type="button"
          class="picture"
          :aria-pressed="fault === word"
          @click="fault = word"
        >
          <FaultPicture :fault="word" :hex="spot?.hex ?? '#888888'" />{{ faultSaid[word] }}
        </button>
      </div>
      <label v-if="fault === 'off_hue'" class="towards"
        ><span>It should be</span><ElSelect v-model="towards" :options="towardsChoices" aria-label="It should be"
      /></label>
    </div>
    <aside class="slip" aria-live="polite">
      <p v-if="!all.length" class="soft">
        There is nothing to ask about yet: lay an
        <button type="button" class="link" @click="router.push(at('overlap'))">overlap</button> or plan a
        <button type="button" class="link" @click="router.push(at('panel'))">panel</button> first.
      </p>
      <p v-else-if="!told" class="soft">
        Choose what lies before you, and where. What evens out by itself is left alone; for the rest I look what can be
        done with what lies there and what you have.
      </p>
      <template v-else>
        <h1>
          {{
            told.settles
              ? 'It goes by itself'
              : told.when > 0
                ? 'Wait, then look'
                : 'This stays unless you do something'
          }}
        </h1>
        <p v-if="told.when > 0" class="when">
          dry in about <b>{{ spanSaid(told.when) }}</b>
        </p>
        <p v-for="text in told.texts" :key="text" class="text">{{ text }}</p>
        <h2 v-if="told.rescues.length">What may be done</h2>
        <ul>
          <li v-for="rescue in told.rescues" :key="rescue.text" :class="{ not: !rescue.helps }">
            <span class="pair" aria-hidden="true"
              ><i :style="{ background: rescue.before }" /><i :style="{ background: rescue.after }"
            /></span>
            <span>{{ rescue.text }}<small v-if="!rescue.helps">It would not help here.</small></span>
          </li>
        </ul>
      </template>
    </aside>
    <WetPhoto v-if="shooting && piece" :panel-id="piece.ids[0] ?? 0" :name="piece.name" @close="shooting = false" />
  </section>
</template>

<style scoped>
.faults {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 400px;
  gap: 16px;
  min-height: 0;
}
.ask,
.slip {
  min-height: 0;
  overflow-y: auto;
}
.slip {
  padding: 16px 20px;
  background: var(--slip);
}
.where {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 14px;
}
.where label span,
.towards span {
  display: block;
  font-size: 14px;
  color: var(--text-soft);
}
.where label:first-child {
  width: 280px;
}
.where :deep(.el-select__wrapper),
.towards :deep(.el-select__wrapper) {
  min-height: 42px;
  font-size: 16px;
}
.spots {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin-top: 10px;
}
.spots button {
  display: flex;
  align-items: center;
  gap: 7px;
  min-height: 42px;
  padding: 0 9px 0 5px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  font-size: 15px;
  cursor: pointer;
}
.spots button[aria-pressed='true'] {
  border-color: var(--text);
  background: var(--slip);
  font-weight: 600;
}
.spots i {
  width: 30px;
  height: 24px;
}
h1 {
  margin: 0;
  font: 640 28px/1.15 var(--colour-names);
}
h2 {
  margin: 16px 0 6px;
  font: 620 20px/1.2 var(--colour-names);
}
.pictures {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(142px, 1fr));
  gap: 10px;
  max-width: 800px;
}
.picture {
  display: grid;
  gap: 4px;
  padding: 6px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  font-size: 16px;
  text-align: left;
  cursor: pointer;
}
.picture:hover {
  border-color: var(--line);
}
.picture[aria-pressed='true'] {
  border-color: var(--text);
  outline: 2px solid var(--text);
  background: var(--slip);
  font-weight: 600;
}
.towards {
  display: block;
  width: 240px;
  margin-top: 10px;
}
.when {
  margin: 4px 0;
  font-size: 19px;
}
.text {
  margin: 8px 0;
  font-size: 18px;
}
ul {
  display: grid;
  gap: 10px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 74px minmax(0, 1fr);
  gap: 10px;
}
.not {
  color: var(--text-soft);
}
.pair {
  display: flex;
  height: 44px;
}
.pair i {
  flex: 1;
}
small {
  display: block;
  font-size: 14px;
}
.soft {
  color: var(--text-soft);
  font-size: 18px;
}
@media (max-width: 1100px) {
  .faults {
    grid-template-columns: minmax(0, 1fr) 330px;
  }
}
@media (max-width: 820px) {
  .faults {
    grid-template-columns: 1fr;
  }
}
</style>

<script setup lang="ts">
/** Which ink next: of those one would like, or of a list, the one that brings the most new clean colours. */
import { ElSelect } from 'element-plus'
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, need, type NextList } from '@/shared/api'
import { useNewest } from '@/shared/newest'
import SheetDialog from '@/shared/SheetDialog.vue'
import { formulaSaid } from '../../generated/words'
import { useStash } from './useStash'

const emit = defineEmits<{ close: [] }>()
const { cards, attempt } = useStash()

const card = ref(cards.value[0]?.id ?? 0)
const cardChoices = computed(() => [
  { value: 0, label: 'White card' },
  ...cards.value.map((each) => ({ value: each.id, label: each.name })),
])
const file = shallowRef<{ name: string; text: string } | null>(null)
const found = shallowRef<NextList | null>(null)
const busy = ref(false)

const fetchNext = useNewest(
  () => need(api.POST('/api/next-ink', { body: { card_id: card.value || null, table: file.value?.text ?? null } })),
  (list) => (found.value = list),
)
async function look(): Promise<void> {
  busy.value = true
  await attempt(fetchNext)
  busy.value = false
}
async function open(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  if (chosen) {
    file.value = { name: chosen.name, text: await chosen.text() }
    await look()
  }
  input.value = ''
}
async function wanted(): Promise<void> {
  file.value = null
  await look()
}
onMounted(look)

const brings = (gain: number): string =>
  gain === 0
    ? 'brings no new clean colour'
    : gain === 1
      ? 'brings one new clean colour'
      : `brings ${gain} new clean colours`
</script>

<template>
  <SheetDialog title="Which ink next?" fit @close="emit('close')">
    <div class="asked">
      <ElSelect v-model="card" :options="cardChoices" :teleported="false" aria-label="On which card" @change="look" />
      <span>{{ file ? `of the list ${file.name}` : 'of the inks you want' }}</span>
      <label class="pick-file">Open a list<input type="file" accept=".csv,.txt,.tsv" @change="open" /></label>
      <button v-if="file" type="button" class="link" @click="wanted">The inks I want</button>
    </div>
    <p v-if="busy && !found" role="status">Laying each with all of yours …</p>
    <template v-else-if="found">
      <p v-if="!found.inks.length" class="none">
        No ink stands on the shelf as wanted. Open an ink of the stash and say that you want it, or open a list of a
        range (name, formula and hex).
      </p>
      <p v-else class="soft">
        Each is tried by itself and with every one of your {{ found.owned }} inks, under and over it.
      </p>
      <ol aria-label="Inks, the one that brings most first">
        <li v-for="each in found.inks" :key="`${each.range} ${each.name}`">
          <span class="pad" :style="{ backgroundColor: each.hex }"></span>
          <div>
            <p>
              <b>{{ each.name }}</b>
              <span class="soft">{{ [each.range, formulaSaid[each.formula]].filter(Boolean).join(', ') }}</span>
            </p>
            <p>
              {{ brings(each.gain)
              }}<template v-if="each.like && each.made">. You can make it already: {{ each.like.text }}</template
              ><template v-else-if="each.like">. Nearest of yours: {{ each.like.text }}</template
              >.
            </p>
            <ul v-if="each.new.length" :aria-label="`What ${each.name} would bring`">
              <li v-for="(colour, i) in each.new" :key="i" :title="`${colour.words}, ${colour.text}`">
                <span class="new" :style="{ backgroundColor: colour.hex }"></span>
                <small>{{ colour.words }}, {{ colour.text }}</small>
              </li>
            </ul>
          </div>
          <span v-if="each.like" class="twin" :title="each.like.text" aria-hidden="true"
            ><span :style="{ backgroundColor: each.hex }"></span
            ><span :style="{ backgroundColor: each.like.hex }"></span
          ></span>
        </li>
      </ol>
    </template>
  </SheetDialog>
</template>

<style scoped>
.asked {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
}
.asked :deep(.el-select) {
  width: 220px;
}
p {
  margin: 4px 0;
}
.soft,
small {
  color: var(--text-soft);
}
ol,
ul {
  margin: 8px 0 0;
  padding: 0;
  list-style: none;
}
ol > li {
  display: grid;
  grid-template-columns: 64px minmax(0, 1fr) auto;
  gap: 14px;
  padding: 10px 0;
  border-top: 1px solid var(--line-soft);
}
.pad {
  height: 48px;
  border: 4px solid #1c1c1c;
  border-radius: 5px;
}
b {
  font: 600 20px/1.2 var(--colour-names);
}
ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(118px, 1fr));
  gap: 6px;
}
ul li {
  display: grid;
  gap: 2px;
}
.new {
  height: 34px;
  border: 3px solid #f8f8f8;
}
small {
  font-size: 14px;
  line-height: 1.15;
}
.twin {
  display: grid;
  grid-template-columns: 34px 34px;
  height: 48px;
}
</style>

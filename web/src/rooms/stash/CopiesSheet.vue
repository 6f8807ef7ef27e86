<script setup lang="ts">
/** Copies of everything: made by themselves, made now, and put back. */
import { ElButton } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'

import { api, need, type CopiesOut, type CopyOut } from '@/shared/api'
import SheetDialog from '@/shared/SheetDialog.vue'
import { useOverlap } from '../overlap/useOverlap'
import { usePanel } from '../panels/usePanel'
import { copyReasonSaid } from '../../generated/words'
import { useStash } from './useStash'

const emit = defineEmits<{ close: [] }>()
const { attempt, fetchStash } = useStash()
const { fetchDesk } = useOverlap()
const { desk: panelDesk, fetchPanel } = usePanel()

const found = shallowRef<CopiesOut | null>(null)
/** The copy that is about to be put back. */
const asked = ref<string | null>(null)
const busy = ref(false)
const told = ref('')

const when = (copy: CopyOut): string =>
  new Date(copy.at).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
  })
const size = (copy: CopyOut): string =>
  copy.size < 1e6 ? `${Math.max(1, Math.round(copy.size / 1e3))} kB` : `${(copy.size / 1e6).toFixed(1)} MB`

async function during(work: () => Promise<void>): Promise<void> {
  busy.value = true
  told.value = ''
  await attempt(work)
  busy.value = false
}
const list = (): Promise<void> =>
  during(async () => {
    found.value = await need(api.GET('/api/copies'))
  })
const make = (): Promise<void> =>
  during(async () => {
    found.value = await need(api.POST('/api/copies'))
    told.value = 'Copied. It stands at the top of the list.'
  })
const putBack = (copy: CopyOut): Promise<void> =>
  during(async () => {
    asked.value = null
    found.value = await need(api.POST('/api/copies/{name}/restore', { params: { path: { name: copy.name } } }))
    // All that lies open may be another now, or gone.
    await fetchStash()
    await fetchDesk()
    if (panelDesk.value) await fetchPanel()
    told.value = `Everything is as it was on ${when(copy)}. What was here until now is the newest copy.`
  })

onMounted(list)
</script>

<template>
  <SheetDialog title="Copies of everything" fit @close="emit('close')">
    <div class="copies">
      <p>
        Wempa copies all inks, cards, tools, overlaps, panels and photos when it starts and once a day, if something has
        changed. The newest ten stay, and one of every month.
      </p>
      <p class="now"><ElButton size="large" type="primary" :loading="busy" @click="make">Copy it now</ElButton></p>
      <p v-if="told" class="told" role="status">{{ told }}</p>
      <p v-if="found && !found.copies.length">There are no copies yet.</p>
      <ol v-if="found">
        <li v-for="copy in found.copies" :key="copy.name" :class="{ asked: asked === copy.name }">
          <template v-if="asked === copy.name">
            <span>
              Put back <b>{{ when(copy) }}</b>? Everything becomes as it was then. What is here now is copied first, so
              that you can come back to it.
            </span>
            <ElButton size="large" type="primary" :disabled="busy" @click="putBack(copy)">Yes, put it back</ElButton>
            <ElButton size="large" @click="asked = null">No, leave it</ElButton>
          </template>
          <template v-else>
            <b>{{ when(copy) }}</b>
            <span class="why">{{ copyReasonSaid[copy.why] }}, {{ size(copy) }}</span>
            <a
              class="word"
              :href="`/api/copies/${copy.name}`"
              :aria-label="`Save as a file: the copy of ${when(copy)}`"
              download
              >Save as a file</a
            >
            <button
              type="button"
              class="word"
              :disabled="busy"
              :aria-label="`Put back: the copy of ${when(copy)}`"
              @click="asked = copy.name"
            >
              Put back
            </button>
          </template>
        </li>
      </ol>
      <p v-if="found" class="where">They lie in {{ found.folder }}. Keep one on another disk or a stick as well.</p>
    </div>
  </SheetDialog>
</template>

<style scoped>
.copies {
  display: grid;
  gap: 10px;
  max-width: 900px;
}
p {
  margin: 0;
}
.told {
  padding: 8px 12px;
  border-left: 5px solid var(--text);
  background: var(--raised);
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 54px;
  border-bottom: 1px solid var(--line-soft);
}
li.asked {
  flex-wrap: wrap;
  padding: 10px 12px;
  background: var(--raised);
}
li.asked span {
  flex: 1 1 100%;
}
li :deep(.el-button) {
  margin: 0;
}
b {
  font: 600 19px/1.2 var(--colour-names);
}
.why {
  flex: 1;
  color: var(--text-soft);
}
.where {
  color: var(--text-soft);
  overflow-wrap: anywhere;
}
</style>

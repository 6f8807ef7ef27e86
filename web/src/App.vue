<script setup lang="ts">
import { ElSelect } from 'element-plus'
import { onKeyStroke } from '@vueuse/core'
import { computed, onMounted, watch } from 'vue'
import { useRoute } from 'vue-router'

import MudGlass from './shared/MudGlass.vue'
import WhyBubble from './shared/WhyBubble.vue'
import { useOverlap } from './rooms/overlap/useOverlap'
import { usePanel } from './rooms/panels/usePanel'
import { api, need, Refused } from './shared/api'
import { at, rooms, router } from './shared/router'
import { useLog } from './rooms/log/useLog'
import { useStash } from './rooms/stash/useStash'
import { useSurround } from './shared/useSurround'
import { isCommand, typing } from './shared/keys'
import { useTrouble } from './shared/trouble'
import { type Illuminant, illuminantSaid, illuminantWords } from './generated/words'

const { desk, overlap, load, fetchDesk, undo, redo, questioned, stepAnyway, view } = useOverlap()
const { desk: panelDesk, plan: panelPlan, fetchPanel, view: viewPanel } = usePanel()
const { stash, attempt } = useStash()
const { book, reread } = useLog()
const { onPage: trouble, unpaired } = useTrouble()
const route = useRoute()
const place = computed(() => route.name)
const surround = useSurround()
const onPanel = computed(() => place.value === 'panel')
const light = computed(() => (onPanel.value ? panelPlan.value : overlap.value)?.settings?.illuminant ?? 'D65')
const canUndo = computed(() =>
  Boolean(
    book.value?.can_undo ||
    stash.value?.can_undo ||
    desk.value?.can_undo ||
    (onPanel.value && panelDesk.value?.can_undo),
  ),
)
const canRedo = computed(() =>
  Boolean(
    book.value?.can_redo ||
    stash.value?.can_redo ||
    desk.value?.can_redo ||
    (onPanel.value && panelDesk.value?.can_redo),
  ),
)

async function step(back: boolean): Promise<void> {
  await (back ? undo() : redo())
  await afresh()
}
async function stepAll(): Promise<void> {
  await stepAnyway()
  await afresh()
}
async function afresh(): Promise<void> {
  if (onPanel.value) await attempt(fetchPanel)
  if (place.value === 'log') await attempt(reread)
}

const lights = illuminantWords.map((value) => ({ value, label: illuminantSaid[value] }))

onKeyStroke(['z', 'Z'], (event) => {
  if (!(event.ctrlKey || event.metaKey) || typing(event)) return
  event.preventDefault()
  void step(!event.shiftKey)
})
onKeyStroke(
  rooms.map((room) => room.key),
  (event) => {
    if (!isCommand(event)) return
    void router.push(at(rooms.find((room) => room.key === event.key)?.name ?? 'overlap'))
  },
)
// What changed in the stash changes what lies on the table.
watch(place, (now) => {
  if (now === 'overlap' && stash.value) void attempt(fetchDesk)
})
// A page that cannot be fetched: the laptop says why, or does not answer at all.
router.onError(() =>
  attempt(async () => {
    await need(api.GET('/api/pairing'))
    throw new Refused('That page could not be fetched; try it again.', 0)
  }),
)
onMounted(load)
</script>

<template>
  <div class="page">
    <header class="strip">
      <h1 class="unseen">{{ rooms.find((room) => room.name === place)?.said ?? 'Wempa' }}</h1>
      <p class="wordmark">
        <MudGlass :mud="30" :line="60" :size="24" /> <span>Wempa</span>
        <small
          v-if="stash"
          :title="
            stash.sample ? 'The inks, cards and panels that ship with Wempa, to try it' : 'Your own inks and cards'
          "
          >{{ stash.sample ? 'sample stash' : 'my stash' }}</small
        >
      </p>
      <nav class="rooms" aria-label="Views">
        <RouterLink
          v-for="room in rooms"
          :key="room.name"
          :to="at(room.name)"
          :aria-current="place === room.name ? 'page' : undefined"
          :title="`Key ${room.key}`"
          >{{ room.said }}</RouterLink
        >
      </nav>
      <div class="tools">
        <label v-if="place === 'overlap' || place === 'chart' || place === 'match' || onPanel">
          <span>Light</span>
          <ElSelect
            :model-value="light"
            :options="lights"
            class="light"
            aria-label="Viewing light"
            @update:model-value="(chosen: Illuminant) => (onPanel ? viewPanel(chosen) : view(chosen))"
          />
        </label>
        <button
          type="button"
          class="word"
          :aria-pressed="surround === 'dark'"
          :aria-label="surround === 'dark' ? 'Light grey table' : 'Dark grey table'"
          @click="surround = surround === 'dark' ? 'light' : 'dark'"
        >
          {{ surround === 'dark' ? 'Light' : 'Dark' }}<span class="grey">&nbsp;grey table</span>
        </button>
        <button type="button" class="word" :disabled="!canUndo" title="Ctrl Z" @click="step(true)">Undo</button>
        <button type="button" class="word" :disabled="!canRedo" title="Ctrl Shift Z" @click="step(false)">Redo</button>
      </div>
    </header>
    <p v-if="unpaired" class="trouble" role="alert">
      The laptop does not know this device any more. <a class="link" href="/pair">Pair it again</a>
    </p>
    <p v-else-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
    <p v-if="questioned" class="trouble asks" role="alert">
      <span>{{ questioned.text }}.</span>
      <button type="button" class="word framed" @click="stepAll">
        {{ questioned.direction === 'undo' ? 'Take it back all the same' : 'Do it again all the same' }}
      </button>
      <button type="button" class="word framed" @click="questioned = null">Leave it</button>
    </p>
    <RouterView class="view" />
    <WhyBubble />
  </div>
</template>

<style scoped>
.page {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.strip {
  display: flex;
  align-items: center;
  justify-content: space-between;
  flex: none;
  min-height: 56px;
  padding: 4px 14px;
}
.wordmark {
  display: grid;
  grid-template-columns: auto auto;
  align-items: center;
  gap: 0 8px;
  margin: 0;
  font: 650 24px/1 var(--colour-names);
}
.wordmark > :first-child {
  grid-row: 1 / 3;
}
.wordmark small {
  grid-area: 2 / 2;
  font: 400 14px/1.1 var(--body);
  color: var(--text-soft);
  white-space: nowrap;
}
.rooms {
  display: flex;
  gap: 2px;
  margin-inline: 14px auto;
}
.rooms a {
  display: grid;
  place-content: center;
  min-height: 44px;
  padding: 0 12px;
  border-bottom: 3px solid transparent;
  color: inherit;
  font-weight: 500;
  text-decoration: none;
  white-space: nowrap;
}
.rooms a:hover {
  border-bottom-color: var(--line);
}
.rooms a[aria-current] {
  border-bottom-color: var(--text);
  font-weight: 700;
}
.tools {
  display: flex;
  align-items: center;
  gap: 6px;
}
.tools label {
  display: flex;
  align-items: center;
  gap: 8px;
  margin-right: 8px;
}
.light {
  width: 176px;
}
.light :deep(.el-select__wrapper) {
  min-height: 40px;
  font-size: 16px;
}
.asks {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
}
.asks span {
  flex: 1;
}
.view {
  flex: 1;
  min-height: 0;
}
@media (max-width: 1360px) {
  .tools label span {
    display: none;
  }
  .tools label {
    margin-right: 0;
  }
  .light {
    width: 150px;
  }
}
@media (max-width: 1150px) {
  .rooms {
    margin-inline: 10px auto;
  }
  .rooms a {
    padding: 0 6px;
    font-size: 16px;
  }
  .grey {
    display: none;
  }
  .light {
    width: 132px;
  }
  .word {
    padding: 0 5px;
  }
}
@media (max-width: 820px) {
  .page {
    height: auto;
    min-height: 100%;
    padding-bottom: 58px;
  }
  .strip {
    gap: 6px;
    padding: 4px 8px;
  }
  .wordmark small {
    display: none;
  }
  .rooms {
    position: fixed;
    z-index: 5;
    inset: auto 0 0;
    margin: 0;
    overflow-x: auto;
    background: var(--table);
    border-top: 1px solid var(--line);
    scrollbar-width: none;
  }
  .rooms a {
    flex: 1 0 auto;
    min-height: 54px;
    padding: 0 12px;
    border-top: 4px solid transparent;
    border-bottom: 0;
  }
  .rooms a[aria-current] {
    border-top-color: var(--text);
  }
  .tools {
    gap: 0;
  }
  .light {
    width: 112px;
  }
}
@media (max-width: 480px) {
  .wordmark {
    font-size: 0;
  }
}
</style>

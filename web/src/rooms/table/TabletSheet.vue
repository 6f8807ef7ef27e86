<script setup lang="ts">
/** A tablet or phone beside the mat: where it finds Wempa, the code that pairs it, and which ones are paired. */
import { ElButton } from 'element-plus'
import { useIntervalFn } from '@vueuse/core'
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, need, type Pairing } from '@/shared/api'
import SheetDialog from '@/shared/SheetDialog.vue'
import { useStash } from '../stash/useStash'

const emit = defineEmits<{ close: [] }>()
const { attempt } = useStash()
const found = shallowRef<Pairing | null>(null)
/** When the code that is shown ends, by this page's clock. */
const until = ref(0)
const now = ref(Date.now())
const asked = ref<number | null>(null)

const take = (told: Pairing): void => {
  found.value = told
  now.value = Date.now()
  until.value = now.value + (told.code?.seconds ?? 0) * 1000
}
const left = computed(() => Math.max(0, Math.ceil((until.value - now.value) / 60_000)))
const code = computed(() => (now.value < until.value ? (found.value?.code?.figures ?? null) : null))
const look = (): Promise<boolean> => attempt(async () => take(await need(api.GET('/api/pairing'))))
const make = (): Promise<boolean> => attempt(async () => take(await need(api.POST('/api/pairing/code'))))
const letGo = (id: number): Promise<boolean> =>
  attempt(async () => {
    asked.value = null
    take(await need(api.DELETE('/api/pairing/devices/{device_id}', { params: { path: { device_id: id } } })))
  })
const day = (at: string): string => new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'long' })
const dark = (rows: readonly string[]): string =>
  rows.flatMap((row, y) => [...row].flatMap((one, x) => (one === '1' ? [`M${x} ${y}h1v1h-1z`] : []))).join('')

onMounted(look)
// So that the list shows a device as soon as it is paired.
useIntervalFn(look, 4000)
useIntervalFn(() => (now.value = Date.now()), 1000)
</script>

<template>
  <SheetDialog title="A tablet beside the mat" fit @close="emit('close')">
    <div v-if="found" class="tablets">
      <template v-if="!found.open">
        <p>
          Wempa was started for this laptop alone. For a tablet or a phone in your own network, stop it and start it
          with
        </p>
        <p>
          <code>wempa serve --lan</code> <span class="soft">or, for the sample stash,</span>
          <code>wempa demo --lan</code>
        </p>
        <p class="soft">Each device is asked for a code that is shown here, and can be let go again.</p>
      </template>
      <template v-else-if="found.this !== null">
        <p>
          This device is paired as <b>{{ found.this }}</b>. Others are paired, and let go, at the laptop.
        </p>
      </template>
      <template v-else>
        <ol class="way">
          <li v-for="address in found.addresses" :key="address.url">
            <svg
              class="square"
              :viewBox="`-4 -4 ${address.rows.length + 8} ${address.rows.length + 8}`"
              role="img"
              :aria-label="`The address ${address.url} to be read by a camera`"
            >
              <path :d="dark(address.rows)" />
            </svg>
            <span
              >In the same network, point the tablet’s camera here, or type <b>{{ address.url }}</b></span
            >
          </li>
          <li>
            <span class="code" aria-live="polite">
              <template v-if="code">{{ code.slice(0, 3) }}&nbsp;{{ code.slice(3) }}</template>
              <template v-else>–</template>
            </span>
            <span v-if="code"
              >Type this code there. It is good once, for {{ left }} {{ left === 1 ? 'minute' : 'minutes' }} more.</span
            >
            <span v-else-if="found.guessed"
              >Somebody guessed at the last code too often. Make a new one if it was you.</span
            >
            <span v-else>There is no code at the moment.</span>
            <ElButton size="large" type="primary" @click="make">{{ code ? 'Another code' : 'Make a code' }}</ElButton>
          </li>
        </ol>
        <h3>Paired</h3>
        <p v-if="!found.devices.length" class="soft">None yet.</p>
        <ul>
          <li v-for="device in found.devices" :key="device.id">
            <template v-if="asked === device.id">
              <span class="grow"
                >Let <b>{{ device.name }}</b> go? It needs a new code then.</span
              >
              <ElButton size="large" type="primary" @click="letGo(device.id)">Yes, let it go</ElButton>
              <ElButton size="large" @click="asked = null">No, keep it</ElButton>
            </template>
            <template v-else>
              <b class="name">{{ device.name }}</b>
              <span class="soft grow">paired {{ day(device.paired) }}, last here {{ day(device.seen) }}</span>
              <button type="button" class="word" :aria-label="`Let ${device.name} go`" @click="asked = device.id">
                Let it go
              </button>
            </template>
          </li>
        </ul>
        <p class="soft">
          <template v-if="found.secure">What goes between them is encrypted.</template>
          <template v-else>
            This is plain HTTP for your own network: whoever shares it could read along. Not for a café; with
            <code>--certfile</code> and <code>--keyfile</code> it is encrypted.
          </template>
        </p>
      </template>
    </div>
  </SheetDialog>
</template>

<style scoped>
.tablets {
  display: grid;
  gap: 12px;
}
p,
h3 {
  margin: 0;
}
h3 {
  font: 600 20px/1.2 var(--colour-names);
}
.soft {
  color: var(--text-soft);
}
code {
  padding: 2px 8px;
  background: var(--raised);
  font-size: 17px;
}
ol,
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
.way {
  display: grid;
  gap: 12px;
}
li {
  display: flex;
  align-items: center;
  gap: 16px;
}
.way span {
  flex: 1;
}
.way b {
  overflow-wrap: anywhere;
}
ul li {
  min-height: 54px;
  border-bottom: 1px solid var(--line-soft);
}
li :deep(.el-button) {
  margin: 0;
}
/* A camera reads dark on white, whatever the surroundings. */
.square {
  flex: none;
  width: 190px;
  height: 190px;
  background: #ffffff;
  fill: #000000;
}
.way .code {
  flex: none;
  width: 190px;
  font-size: 40px;
  font-weight: 700;
  font-variant-numeric: tabular-nums;
  text-align: center;
}
.name {
  font: 600 19px/1.2 var(--colour-names);
}
.grow {
  flex: 1;
}
@media (max-width: 820px) {
  li {
    flex-wrap: wrap;
  }
}
</style>

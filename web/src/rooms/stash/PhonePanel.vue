<script setup lang="ts">
/** The phone that took a photo: what to call it, what it taught Wempa, teaching it more, forgetting it. */
import { ElButton, ElInput } from 'element-plus'
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, need, type PhoneKnown, type ReadIn, type ReadOut } from '@/shared/api'
import { illuminantSaid, type Illuminant } from '../../generated/words'
import FieldRow from './FieldRow.vue'
import { useStash } from './useStash'

const { photo, found, marked } = defineProps<{ photo: string; found: ReadOut; marked: () => Omit<ReadIn, 'phone'> }>()
const phone = defineModel<string>({ required: true })
const emit = defineEmits<{ change: [] }>()
const { attempt } = useStash()

const phones = shallowRef<PhoneKnown[]>([])
const done = ref('')
const here = computed(() => phones.value.find((each) => each.name === phone.value.trim()))
const taught = computed(() =>
  Object.entries(here.value?.swatches ?? {})
    .map(([lamp, count]) => `${count} under ${illuminantSaid[lamp as Illuminant].toLowerCase()}`)
    .join(', '),
)

const list = (): Promise<boolean> =>
  attempt(async () => {
    phones.value = await need(api.GET('/api/phones'))
  })

async function teach(): Promise<void> {
  const name = phone.value.trim()
  const well = await attempt(async () => {
    await need(
      api.POST('/api/photos/{photo}/teach', { params: { path: { photo } }, body: { ...marked(), phone: name } }),
    )
  })
  if (!well) return
  done.value = `Wempa has learned how ${name} sees colours, and reads its photos by that from now on.`
  await list()
  emit('change')
}

async function forget(id: number): Promise<void> {
  await attempt(async () => {
    phones.value = await need(api.DELETE('/api/phones/{item_id}', { params: { path: { item_id: id } } }))
  })
  done.value = ''
  emit('change')
}

onMounted(list)
</script>

<template>
  <div class="phone">
    <FieldRow label="Taken with">
      <ElInput
        v-model="phone"
        maxlength="120"
        list="phones"
        aria-label="Taken with"
        placeholder="what you call this phone"
        @change="emit('change')"
      />
    </FieldRow>
    <datalist id="phones"><option v-for="each in phones" :key="each.id" :value="each.name" /></datalist>
    <ElButton v-if="found.teaches && phone.trim() && !done" type="primary" @click="teach"
      >Teach Wempa this phone</ElButton
    >
    <ElButton v-if="here" @click="forget(here.id)">Forget it</ElButton>
    <p v-if="done" role="status">{{ done }}</p>
    <p v-else-if="here">Known from swatches: {{ taught }}.</p>
    <p v-else-if="found.teaches">
      {{ found.known }} of these inks are well known: they can tell how this phone sees colours.
    </p>
    <p v-else class="soft">
      A phone is learned from eight inks whose colour came from a reader or a measured file: photograph them on one
      sheet and give their names.
      <template v-if="found.known">{{ found.known }} are here.</template>
    </p>
  </div>
</template>

<style scoped>
.phone {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 4px 8px;
  align-items: end;
}
.phone p {
  grid-column: 1 / -1;
  margin: 0;
  font-size: 16px;
}
.soft {
  color: var(--text-soft);
}
</style>

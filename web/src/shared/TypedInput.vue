<script setup lang="ts">
/** A field whose text counts when it is left or Enter is pressed, and not at each letter. */
import { ElInput } from 'element-plus'
import { ref, watch } from 'vue'

const { value } = defineProps<{ value: string }>()
const emit = defineEmits<{ typed: [text: string] }>()
const text = ref(value)
watch(
  () => value,
  (now) => (text.value = now),
)
</script>

<template>
  <ElInput v-model="text" @change="(now: string) => emit('typed', now)" />
</template>

<script setup lang="ts">
/** A number that there always is: a box that was emptied goes back to what it held, and nothing has changed. */
import { ElInputNumber } from 'element-plus'

const value = defineModel<number>({ required: true })
function set(now: number | null | undefined): void {
  if (typeof now === 'number' && now !== value.value) value.value = now
}
</script>

<template>
  <ElInputNumber :model-value="value" :value-on-clear="value" @change="set" />
</template>

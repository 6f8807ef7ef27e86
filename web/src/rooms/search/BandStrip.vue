<script setup lang="ts">
/** A small card front: bands of a set of inks, running into one another through what comes between. */
import { computed } from 'vue'

const { shown, card } = defineProps<{ shown: readonly string[]; card: string }>()

/** Bands and in-betweens alternate; each keeps a level middle and runs over into the next. */
const wash = computed(() => {
  const part = 100 / shown.length
  const stops = shown.flatMap((hex, k) => [`${hex} ${(k + 0.28) * part}%`, `${hex} ${(k + 0.72) * part}%`])
  return `linear-gradient(90deg, ${stops.join(', ')})`
})
</script>

<template>
  <span class="front" :style="{ backgroundColor: card }"
    ><span class="wash" :style="{ backgroundImage: wash }"></span
  ></span>
</template>

<style scoped>
.front {
  display: block;
  height: 62px;
  padding: 5px;
}
.wash {
  display: block;
  height: 100%;
}
</style>

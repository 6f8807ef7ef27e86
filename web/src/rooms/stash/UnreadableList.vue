<script setup lang="ts">
/** What is stored and cannot be read: it hides nothing else, and is given out or thrown away here. */
import type { Unreadable } from '@/shared/api'

const { found } = defineProps<{ found: readonly Unreadable[] }>()
const emit = defineEmits<{ discard: [each: Unreadable] }>()
</script>

<template>
  <section v-if="found.length" class="unreadable" aria-label="Cannot be read">
    <h3>{{ found.length === 1 ? 'One thing cannot be read' : `${found.length} things cannot be read` }}</h3>
    <p>Everything else is there. Give it out to keep it, then throw it away; undo brings it back.</p>
    <ul>
      <li v-for="each in found" :key="`${each.kind}${each.id}`">
        <span
          ><b>{{ each.name }}</b> ({{ each.kind }}): {{ each.problem }}</span
        >
        <a
          class="word"
          :href="`/api/export/${each.kind}/${each.id}.json`"
          :aria-label="`Give out ${each.name}`"
          download
          >Give out</a
        >
        <button type="button" class="word" :aria-label="`Throw away ${each.name}`" @click="emit('discard', each)">
          Throw away
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.unreadable {
  margin-bottom: 10px;
  padding: 8px 12px;
  border: 2px dashed var(--line);
}
h3,
p,
ul {
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  align-items: center;
  gap: 8px;
}
li span {
  flex: 1;
}
b {
  font: 600 18px/1.2 var(--colour-names);
}
</style>

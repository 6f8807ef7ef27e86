<script setup lang="ts">
/** Evenings that are over: when, how long, with which inks; and the pace that they taught. */
import { spanSaid, useTable } from './useTable'

const { table } = useTable()
const dayOf = (at: number): string =>
  new Date(at * 1000).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })
const times = (factor: number): string =>
  factor > 1
    ? `takes you ${Math.round(100 * (factor - 1))} % longer than usual`
    : `takes you ${Math.round(100 * (1 - factor))} % less time than usual`
</script>

<template>
  <section class="past">
    <div class="page">
      <h1>Evenings before</h1>
      <p v-if="!table?.history.length" class="lead">
        Nothing yet. What you do at the mat is kept here: when, how long it took, with which inks.
      </p>
      <ol v-else>
        <li v-for="run in table.history" :key="run.id">
          <b>{{ run.name }}</b>
          <span
            >{{ dayOf(run.began) }}: {{ spanSaid(run.minutes) }} from first to last, {{ spanSaid(run.at_mat) }} with
            busy hands; {{ spanSaid(run.planned) }} had been planned.{{
              run.whole ? '' : ' Ended before the last step.'
            }}</span
          >
          <span v-if="run.inks.length" class="soft">{{ run.inks.join(', ') }}</span>
        </li>
      </ol>
    </div>
    <aside>
      <h2>Your pace</h2>
      <p v-if="!table?.paces.length" class="soft">
        Plans go by usual times until you have gone through an evening or two; then by yours.
      </p>
      <p v-for="pace in table?.paces ?? []" :key="pace.label">
        <b>{{ pace.label }}</b> {{ times(pace.factor) }}.
      </p>
      <p v-for="name in table?.unreadable ?? []" :key="name" class="note">
        The plan “{{ name }}” cannot be read and is left aside.
      </p>
    </aside>
  </section>
</template>

<style scoped>
.past {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  gap: 18px;
  min-height: 0;
}
.page,
aside {
  min-height: 0;
  padding: 14px 20px;
  overflow-y: auto;
  background: var(--slip);
}
h1 {
  margin: 0 0 8px;
  font: 640 28px/1.15 var(--colour-names);
}
h2 {
  margin: 0 0 6px;
  font: 620 20px/1.2 var(--colour-names);
}
ol {
  display: grid;
  gap: 14px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  padding-left: 12px;
  border-left: 4px solid var(--text);
}
.soft {
  color: var(--text-soft);
}
.note {
  padding-left: 10px;
  border-left: 3px double var(--text);
}
@media (max-width: 820px) {
  .past {
    grid-template-columns: 1fr;
  }
}
</style>

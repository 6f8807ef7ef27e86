<script setup lang="ts">
/** The first screen: two inks on a card, crossing, with a verdict for each order. */
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'

import type { StashInk } from '../api'
import CardShelf from '../components/CardShelf.vue'
import CrossingCard from '../components/CrossingCard.vue'
import InkRack from '../components/InkRack.vue'
import LayerControl from '../components/LayerControl.vue'
import VerdictSlip from '../components/VerdictSlip.vue'
import { useDesk } from '../composables/useDesk'
import { useStash } from '../composables/useStash'
import { formulaSaid, surfaceSaid } from '../words'

const { inks, cards, desk, layers, card, overlap, loading, chooseInk, chooseCard, changeLayer, swap, layTwo, fillWithSample } =
  useDesk()
const { twins } = useStash()

const active = ref(0)
const pointed = ref<number | null>(null)
const chosen = computed(() => layers.value.map((layer) => layer.ink?.id ?? null))
// Two inks of one name in two formulas are two colours: then the formula goes with the name.
const names = computed(() =>
  layers.value.map(({ ink }) =>
    !ink ? 'an ink no longer here' : twins.value.has(ink.name) ? `${ink.name} (${formulaSaid[ink.formula]})` : ink.name,
  ),
)
// What is wanted, used up or only a reference cannot be laid down; what lies there already stays to be seen.
const atHand = computed(() => inks.value.filter((ink) => ink.item.standing === 'owned' || chosen.value.includes(ink.id)))
const plainPair = computed(() => layers.value.length === 2 && layers.value.every((layer) => layer.ink))
const wet = computed(() => layers.value[1]?.entry.over === 'wet')
const notes = computed(() => {
  const seen = new Map<string, string>()
  for (const pair of desk.value?.crossing.pairs.slice(0, 1) ?? [])
    for (const note of pair.result.notes) seen.set(note.text, note.text)
  return [...seen.values()]
})

function choose(ink: StashInk): void {
  void chooseInk(active.value, ink)
}
</script>

<template>
  <main v-if="desk && overlap && plainPair" class="work">
    <InkRack :inks="atHand" :chosen="chosen" class="inks" @choose="choose" />

    <div class="table">
      <div class="layers">
        <template v-for="(layer, i) in layers" :key="i">
          <LayerControl
            v-if="layer.ink"
            :entry="layer.entry"
            :ink="layer.ink"
            :order="i === 0 ? 'first' : 'second'"
            :active="active === i"
            @activate="active = i"
            @change="(edit) => changeLayer(i, edit)"
          />
          <div v-if="i === 0" class="between">
            <button type="button" class="swap" title="Swap the two inks (X)" @click="swap">
              <span aria-hidden="true">⇄</span><span class="for-readers">Swap the two inks</span>
            </button>
            <button
              type="button"
              class="join"
              :aria-pressed="wet"
              title="Lay the second ink into the wet first, or let the first dry (W)"
              @click="changeLayer(1, { over: wet ? 'dry' : 'wet' })"
            >
              {{ wet ? 'into wet' : 'on dry' }}
            </button>
          </div>
        </template>
      </div>
      <div class="mat">
        <CrossingCard
          :crossing="desk.crossing"
          :names="names"
          :card-name="card?.name ?? 'white card'"
          :mud-line="overlap.settings.mud_line"
          :pointed="pointed"
          @point="(pair) => (pointed = pair)"
        />
      </div>
    </div>

    <aside class="verdicts" aria-label="Verdict" aria-live="polite">
      <p class="on">
        on <b>{{ card?.name ?? 'white card' }}</b><template v-if="card">, {{ surfaceSaid[card.surface] }}</template>
      </p>
      <VerdictSlip
        v-for="(pair, i) in desk.crossing.pairs.slice(0, 2)"
        :key="i"
        :pair="pair"
        :names="names"
        :closeness="desk.crossing.margin_words[i] ?? ''"
        :mud-line="overlap.settings.mud_line"
        :pointed="pointed === i"
        @point="(on) => (pointed = on ? i : null)"
      />
      <p v-for="note in notes" :key="note" class="note">{{ note }}</p>
    </aside>
    <CardShelf :cards="cards" :chosen="card?.id ?? null" class="cards" @choose="(each) => chooseCard(each.id)" />
  </main>

  <main v-else-if="!loading && !desk" class="empty">
    <h1>Nothing on the table yet</h1>
    <p>
      Wempa needs two inks to say how they will blend;
      {{ inks.length ? 'there are not yet two on the shelf that you own.' : 'your shelf is empty.' }}
    </p>
    <a class="own" href="#stash">Put your own inks on the shelf</a>
    <ElButton v-if="!inks.length" size="large" type="primary" @click="fillWithSample">Begin with the sample stash</ElButton>
  </main>

  <main v-else-if="!loading" class="empty">
    <h1>This overlap is not two plain lay-downs</h1>
    <p>The table shows two inks crossing. What is stored stays as it is until you lay two anew; Undo brings it back.</p>
    <ElButton size="large" type="primary" @click="layTwo">Lay two inks</ElButton>
  </main>
</template>

<style scoped>
.work {
  display: grid;
  grid-template: 'inks table verdicts' minmax(0, 1fr) 'inks cards cards' auto / 236px minmax(0, 1fr) 312px;
  gap: 8px 14px;
  height: 100%;
  min-height: 0;
  padding: 0 14px 6px;
}
.inks {
  grid-area: inks;
}
.cards {
  grid-area: cards;
}
.table {
  grid-area: table;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 8px;
  min-width: 0;
  min-height: 0;
}
.layers {
  display: flex;
  align-items: flex-start;
  gap: 6px;
}
.between {
  display: grid;
  justify-items: center;
  flex: none;
  width: 72px;
  gap: 5px;
}
.swap {
  width: 52px;
  height: 48px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  font-size: 22px;
  cursor: pointer;
}
.swap:hover {
  border-color: var(--line);
}
.join {
  width: 100%;
  min-height: 40px;
  padding: 0;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--raised);
  font-size: 16px;
  cursor: pointer;
}
/* Wet runs into one another, dry keeps its edge. */
.join[aria-pressed='true'] {
  border-style: dotted;
  border-width: 2px;
  border-color: var(--text);
}
.mat {
  min-height: 0;
  padding: 12px;
  background: var(--table);
}
.verdicts {
  grid-area: verdicts;
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-height: 0;
  overflow-y: auto;
}
.on {
  margin: 0;
}
.note {
  margin: 0;
  padding-left: 10px;
  border-left: 3px double var(--text);
  font-size: 15px;
  line-height: 1.3;
}
.empty {
  display: grid;
  place-content: center;
  justify-items: center;
  height: 100%;
  text-align: center;
}
.own {
  margin-bottom: 14px;
  color: inherit;
  font-size: 19px;
}
.empty h1 {
  font: 600 32px/1.2 var(--colour-names);
}
@media (max-width: 1150px) {
  .work {
    grid-template-columns: 178px minmax(0, 1fr) 252px;
    gap: 6px 8px;
    padding-inline: 8px;
  }
}
@media (max-width: 820px) {
  .work {
    display: flex;
    flex-direction: column;
    height: auto;
  }
  .table {
    order: 1;
  }
  .cards {
    order: 2;
  }
  .verdicts {
    order: 3;
    overflow: visible;
  }
  .inks {
    order: 4;
    max-height: 480px;
  }
  .mat {
    aspect-ratio: 88 / 64;
    padding: 8px;
  }
  .layers {
    flex-direction: column;
    align-items: stretch;
  }
  .between {
    display: flex;
    width: 100%;
    align-items: center;
  }
  .join {
    width: 110px;
  }
}
</style>

<script setup lang="ts">
/** Help beside a knob: when the pointer rests on it, a finger is held on it, or it is come to by key. */
import { useEventListener } from '@vueuse/core'
import { nextTick, ref } from 'vue'

import { knobAt, nameOf, whyOf } from './why'

const REST = 700
const bubble = ref<HTMLElement | null>(null)
const said = ref('')
let waiting = 0
let over: Element | null = null

function hide(): void {
  window.clearTimeout(waiting)
  over = null
  if (!said.value) return
  said.value = ''
  bubble.value?.hidePopover()
}

async function show(knob: Element): Promise<void> {
  const why = whyOf(nameOf(knob))
  if (!why || !bubble.value) return
  said.value = why
  // Above a sheet that lies over the page as well.
  bubble.value.showPopover()
  await nextTick()
  const at = knob.getBoundingClientRect()
  const own = bubble.value.getBoundingClientRect()
  const left = Math.max(8, Math.min(at.left, window.innerWidth - own.width - 8))
  const below = at.bottom + 8 + own.height < window.innerHeight
  bubble.value.style.left = `${left}px`
  bubble.value.style.top = `${below ? at.bottom + 8 : Math.max(8, at.top - own.height - 8)}px`
}

useEventListener(document, 'pointerover', (event) => {
  const knob = knobAt(event.target)
  if (knob === over) return
  hide()
  over = knob
  if (knob) waiting = window.setTimeout(() => void show(knob), REST)
})
useEventListener(document, 'focusin', (event) => {
  const knob = knobAt(event.target)
  const why = knob ? whyOf(nameOf(knob)) : undefined
  if (!knob || !why || !(event.target instanceof Element)) return
  event.target.setAttribute('aria-description', why)
  if (event.target.matches(':focus-visible') && lastKey) {
    hide()
    waiting = window.setTimeout(() => void show(knob), REST)
  }
})
// Who types or presses knows what it is for.
let lastKey = false
useEventListener(
  document,
  'keydown',
  (event) => {
    lastKey = event.key === 'Tab'
    hide()
  },
  { capture: true },
)
useEventListener(
  document,
  'pointerdown',
  (event) => {
    lastKey = false
    if (event.pointerType === 'mouse') hide()
  },
  { capture: true },
)
useEventListener(document, 'focusout', hide)
useEventListener(window, 'scroll', hide, { capture: true, passive: true })
</script>

<template>
  <div ref="bubble" class="why" popover="manual" role="tooltip">{{ said }}</div>
</template>

<style scoped>
.why {
  position: fixed;
  inset: auto;
  max-width: min(360px, calc(100vw - 16px));
  margin: 0;
  padding: 8px 12px;
  border: 1px solid var(--line);
  border-left: 5px solid var(--text);
  border-radius: 3px;
  background: var(--slip);
  color: var(--text);
  font-size: 16px;
  line-height: 1.3;
  box-shadow: 0 4px 16px var(--shadow);
  pointer-events: none;
}
</style>

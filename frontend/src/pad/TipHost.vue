<script setup lang="ts">
import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { ref, shallowRef } from 'vue'

/** The one tooltip of the program: that of the thing pointed at, or of the one in focus. */
const WAIT = 350
const open = ref(false)
const target = shallowRef<HTMLElement | undefined>()
const text = ref('')
const waiting = useTimeoutFn(() => (open.value = true), WAIT, { immediate: false })

/** Words that are cut off for want of room, in full. */
function cutOff(element: Element): string {
  for (let at: Element | null = element, up = 0; at && up < 3; at = at.parentElement, up++) {
    if (at.scrollWidth > at.clientWidth + 1 && getComputedStyle(at).textOverflow === 'ellipsis') return at.textContent?.trim() ?? ''
  }
  return ''
}

function point(event: Event): void {
  const at = event.target instanceof Element ? event.target : null
  const tipped = at?.closest<HTMLElement>('[data-tip]')
  const full = at ? cutOff(at) : ''
  const found = tipped ?? (full && at instanceof HTMLElement ? at : null)
  if (found && found === target.value) return
  leave()
  if (!found) return
  target.value = found
  const said = tipped?.dataset.tip ?? ''
  text.value = full && !said.includes(full) ? [full, said].filter(Boolean).join('\n') : said
  waiting.start()
}

function leave(): void {
  waiting.stop()
  open.value = false
  target.value = undefined
}

useEventListener(document, 'pointerover', point)
useEventListener(document, 'focusin', (event) => {
  if (event.target instanceof Element && event.target.matches(':focus-visible')) point(event)
})
useEventListener(document, ['pointerdown', 'keydown', 'wheel'], leave, { passive: true })
</script>

<template>
  <v-tooltip
    v-if="open && target"
    :model-value="true"
    :target="target"
    :open-on-hover="false"
    :text="text"
    content-class="pad-tip"
  />
</template>

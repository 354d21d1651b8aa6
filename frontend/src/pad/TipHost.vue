<script setup lang="ts">
import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { ref, shallowRef } from 'vue'

/** The one tooltip of the program: that of the thing pointed at, or of the one in focus. */
const WAIT = 350
const open = ref(false)
const target = shallowRef<HTMLElement | undefined>()
const text = ref('')
const waiting = useTimeoutFn(() => (open.value = true), WAIT, { immediate: false })

function point(event: Event): void {
  const found = event.target instanceof Element ? event.target.closest<HTMLElement>('[data-tip]') : null
  if (found === target.value && found) return
  leave()
  if (!found) return
  target.value = found
  text.value = found.dataset.tip ?? ''
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

import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'

/** Short words about what has just happened, shown for a moment; with what takes it back, where that can be done. */
export const useNotices = defineStore('notices', () => {
  const text = ref('')
  const shown = ref(false)
  const undo = shallowRef<(() => unknown) | null>(null)

  function say(words: string, back: (() => unknown) | null = null): void {
    text.value = words
    undo.value = back
    shown.value = true
  }

  function takeBack(): void {
    shown.value = false
    undo.value?.()
  }

  return { text, shown, undo, say, takeBack }
})

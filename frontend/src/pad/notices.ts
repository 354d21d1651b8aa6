import { defineStore } from 'pinia'
import { ref } from 'vue'

/** Short words about what has just happened, shown for a moment. */
export const useNotices = defineStore('notices', () => {
  const text = ref('')
  const shown = ref(false)

  function say(words: string): void {
    text.value = words
    shown.value = true
  }

  return { text, shown, say }
})

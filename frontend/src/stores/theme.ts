import { usePreferredDark, useStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, watchEffect } from 'vue'

import { applyTokens, palettes, type ThemeName } from '../design/tokens'

const KEPT = 'wattikos.theme'

/** Light or dark; follows the system until chosen. */
export const useTheme = defineStore('theme', () => {
  const system = usePreferredDark()
  const chosen = useStorage<ThemeName | ''>(KEPT, '')
  /** Paper is light, whatever the desk is. */
  const onPaper = ref(false)
  const name = computed<ThemeName>(() => (onPaper.value ? 'light' : chosen.value || (system.value ? 'dark' : 'light')))
  watchEffect(() => applyTokens(name.value))

  function toggle(): void {
    chosen.value = name.value === 'light' ? 'dark' : 'light'
  }

  return { name, onPaper, toggle, palette: () => palettes[name.value] }
})

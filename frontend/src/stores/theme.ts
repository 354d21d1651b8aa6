import { defineStore } from 'pinia'
import { ref, watchEffect } from 'vue'

import { applyTokens, palettes, type ThemeName } from '../design/tokens'

const KEPT = 'wattikos.theme'

/** Light or dark; follows the system until chosen. */
export const useTheme = defineStore('theme', () => {
  const system = window.matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
  const name = ref<ThemeName>((localStorage.getItem(KEPT) as ThemeName | null) ?? system)
  watchEffect(() => applyTokens(name.value))

  function toggle(): void {
    name.value = name.value === 'light' ? 'dark' : 'light'
    localStorage.setItem(KEPT, name.value)
  }

  return { name, toggle, palette: () => palettes[name.value] }
})

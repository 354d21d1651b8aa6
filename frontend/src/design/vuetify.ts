import { createVuetify, type ThemeDefinition } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'

import { dark, light, type Palette } from './tokens'

/** Vuetify's theme and component defaults, made from the design tokens: paper, ink, one accent, dense rows. */
const theme = (palette: Palette, isDark: boolean): ThemeDefinition => ({
  dark: isDark,
  colors: {
    background: palette.paper,
    surface: palette.sheet,
    'surface-light': palette.raised,
    'surface-variant': palette.ink,
    'on-surface-variant': palette.sheet,
    'on-background': palette.ink,
    'on-surface': palette.ink,
    primary: palette.heat,
    'on-primary': palette.onHeat,
    secondary: palette.muted,
    error: palette.fault,
    warning: palette.doubt,
    success: palette.good,
    info: palette.muted,
  },
  variables: {
    'border-color': palette.line,
    'border-opacity': 1,
    'high-emphasis-opacity': 1,
    'medium-emphasis-opacity': 1,
    'disabled-opacity': 0.6,
    'hover-opacity': 0.06,
  },
})

const field = { density: 'compact', hideDetails: 'auto', rounded: 0, color: 'primary' } as const

export const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: { defaultTheme: 'light', themes: { light: theme(light, false), dark: theme(dark, true) } },
  defaults: {
    global: { ripple: false },
    VBtn: { variant: 'outlined', rounded: 0, slim: true, density: 'compact' },
    VTextField: { ...field, variant: 'underlined', singleLine: true },
    VTextarea: { ...field, variant: 'outlined', singleLine: true },
    VSelect: {
      ...field,
      variant: 'outlined',
      singleLine: true,
      menuProps: { contentClass: 'pad-menu', transition: false, scrollStrategy: 'close' },
    },
    VCheckbox: { ...field },
    VSlider: { ...field, thumbSize: 14, trackSize: 2 },
    VMenu: { contentClass: 'pad-menu', transition: false },
    VList: { density: 'compact', rounded: 0 },
    VListItem: { rounded: 0, minHeight: 24 },
    VTable: { density: 'compact' },
    VCard: { rounded: 0, border: true, flat: true },
    VDialog: { transition: false, scrollStrategy: 'none' },
    VTooltip: { transition: false, openDelay: 350, location: 'top' },
    VSnackbar: { rounded: 0, timeout: 4000, location: 'bottom' },
    VProgressLinear: { color: 'primary', bgColor: 'secondary', bgOpacity: 0.25, height: 6 },
  },
})

/**
 * The one file of design tokens: colours, type and spacing. Styles read them as CSS variables (`--ink`, `--gap`),
 * Vuetify's theme and everything painted on a canvas read them from here.
 */

export interface Palette {
  paper: string
  sheet: string
  raised: string
  ink: string
  muted: string
  line: string
  hair: string
  heat: string
  onHeat: string
  heatWash: string
  good: string
  doubt: string
  fault: string
  fluid: string
  solid: string
  hatch: string
  select: string
}

export const light: Palette = {
  paper: '#e9e4d8',
  sheet: '#fbf9f3',
  raised: '#ffffff',
  ink: '#22303a',
  muted: '#56636d',
  line: '#c9c1b0',
  hair: '#e5dfd1',
  heat: '#a8430f',
  onHeat: '#ffffff',
  heatWash: '#f6e4d6',
  good: '#2f6b45',
  doubt: '#8a5a00',
  fault: '#a3202c',
  fluid: '#eef1ea',
  solid: '#d8d5cb',
  hatch: '#9b988d',
  select: '#a8430f',
}

export const dark: Palette = {
  paper: '#12171b',
  sheet: '#1a2025',
  raised: '#232b31',
  ink: '#e8e3d8',
  muted: '#a3aeb6',
  line: '#3c4750',
  hair: '#2a3339',
  heat: '#f2935a',
  onHeat: '#1a1209',
  heatWash: '#3a2619',
  good: '#7fc79a',
  doubt: '#e0b04e',
  fault: '#ff8f92',
  fluid: '#202b2e',
  solid: '#353b3f',
  hatch: '#6d757a',
  select: '#f2935a',
}

export const space = { hair: 4, small: 6, gap: 8, pad: 10, wide: 16 }

export const type = {
  text: '"IBM Plex Sans", sans-serif',
  title: '"Source Serif 4 Variable", serif',
  number: '"IBM Plex Sans", sans-serif',
  size: 13,
  small: 11.5,
  label: 12,
}

export const palettes = { light, dark }
export type ThemeName = keyof typeof palettes

/** Write the tokens of a theme as CSS variables. */
export function applyTokens(theme: ThemeName): void {
  const style = document.documentElement.style
  for (const [name, value] of Object.entries(palettes[theme])) {
    style.setProperty(`--${name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}`, value)
  }
  for (const [name, value] of Object.entries(space)) style.setProperty(`--${name === 'hair' ? 'hair-gap' : name}`, `${value}px`)
  style.setProperty('--font-text', type.text)
  style.setProperty('--font-title', type.title)
  style.setProperty('--size', `${type.size}px`)
  style.setProperty('--size-small', `${type.small}px`)
  document.documentElement.dataset.theme = theme
  style.colorScheme = theme
}

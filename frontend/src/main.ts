import '@fontsource/ibm-plex-sans/latin-400.css'
import '@fontsource/ibm-plex-sans/latin-500.css'
import '@fontsource/ibm-plex-sans/latin-600.css'
import '@fontsource/ibm-plex-sans/greek-400.css'
import '@fontsource-variable/source-serif-4/wght.css'
import 'vuetify/styles'
import './design/base.css'

import { createPinia } from 'pinia'
import { createApp } from 'vue'
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'

import App from './App.vue'
import { whenSignedOut } from './api/client'
import { dark, light, type Palette } from './design/tokens'
import { router } from './router'

const theme = (palette: Palette, isDark: boolean) => ({
  dark: isDark,
  colors: { background: palette.paper, surface: palette.sheet, primary: palette.heat, error: palette.fault, warning: palette.doubt, success: palette.good },
})

const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: { defaultTheme: 'light', themes: { light: theme(light, false), dark: theme(dark, true) } },
})

whenSignedOut(() => void router.push('/sign-in'))
createApp(App).use(createPinia()).use(router).use(vuetify).mount('#app')

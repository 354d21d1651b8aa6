import '@fontsource/ibm-plex-sans/latin-400.css'
import '@fontsource/ibm-plex-sans/latin-500.css'
import '@fontsource/ibm-plex-sans/latin-600.css'
import '@fontsource/ibm-plex-sans/greek-400.css'
import '@fontsource-variable/source-serif-4/wght.css'
import 'vuetify/styles'
import './design/base.css'

import { createPinia } from 'pinia'
import { createApp } from 'vue'

import App from './App.vue'
import { whenSignedOut } from './api/client'
import { vuetify } from './design/vuetify'
import { tip } from './pad/tips'
import { router } from './router'

whenSignedOut(() => void router.push('/sign-in'))
createApp(App).directive('tip', tip).use(createPinia()).use(router).use(vuetify).mount('#app')

<script setup lang="ts">
import { watchEffect } from 'vue'
import { useTheme as useVuetifyTheme } from 'vuetify'

import { useTheme } from './stores/theme'

const theme = useTheme()
const vuetify = useVuetifyTheme()
watchEffect(() => vuetify.change(theme.name))
</script>

<template>
  <v-app>
    <router-view />
  </v-app>
</template>

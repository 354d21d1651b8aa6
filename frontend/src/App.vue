<script setup lang="ts">
import { watchEffect } from 'vue'
import { useTheme as useVuetifyTheme } from 'vuetify'

import { useNotices } from './pad/notices'
import TipHost from './pad/TipHost.vue'
import { useTheme } from './stores/theme'

const theme = useTheme()
const notices = useNotices()
const vuetify = useVuetifyTheme()
watchEffect(() => vuetify.change(theme.name))
</script>

<template>
  <v-app>
    <router-view />
    <TipHost />
    <v-snackbar v-model="notices.shown" role="status" data-test="notice">
      {{ notices.text }}
      <template v-if="notices.undo" #actions>
        <v-btn variant="text" data-test="notice-undo" @click="notices.takeBack()">undo</v-btn>
      </template>
    </v-snackbar>
  </v-app>
</template>

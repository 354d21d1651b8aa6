import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'
import vuetify from 'vite-plugin-vuetify'

export default defineConfig(({ command }) => ({
  // Django serves the built files below /static/.
  base: command === 'build' ? '/static/' : '/',
  plugins: [vue(), vuetify({ autoImport: true })],
  server: { proxy: { '/api': 'http://127.0.0.1:8000', '/sign-in/': 'http://127.0.0.1:8000' } },
  build: {
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: 'plots', test: /node_modules[\\/](echarts|zrender|vue-echarts)[\\/]/ },
            { name: 'vendor', test: /node_modules[\\/]/ },
          ],
        },
      },
    },
  },
}))

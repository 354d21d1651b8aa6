import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'
import vuetify from 'vite-plugin-vuetify'

const SERVER = 'http://127.0.0.1:8000'

export default defineConfig(({ command }) => ({
  // Django serves the built files below /static/.
  base: command === 'build' ? '/static/' : '/',
  // A line break between words is a space, as in print.
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } }), vuetify({ autoImport: true })],
  // The server takes entries from its own origin alone.
  server: {
    proxy: Object.fromEntries(
      ['/api', '/sign-in/'].map((path) => [path, { target: SERVER, changeOrigin: true, headers: { Origin: SERVER } }]),
    ),
  },
  test: { server: { deps: { inline: ['vuetify'] } } },
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

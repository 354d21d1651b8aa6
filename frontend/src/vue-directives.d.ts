import type { tip } from './pad/tips'

declare module 'vue' {
  interface GlobalDirectives {
    vTip: typeof tip
  }
}

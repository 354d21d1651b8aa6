import type { Directive } from 'vue'

/**
 * `v-tip="text"`: what a thing is, on pointing at it or by its description. One tooltip (`TipHost`) serves all of them, since a
 * component for each of some hundred cells would be felt while typing.
 */
export const tip: Directive<HTMLElement, string | null | undefined> = {
  mounted: (element, binding) => set(element, binding.value),
  updated: (element, binding) => {
    if (binding.value !== binding.oldValue) set(element, binding.value)
  },
}

function set(element: HTMLElement, text: string | null | undefined): void {
  if (text) {
    element.dataset.tip = text
    element.setAttribute('aria-description', text)
  } else {
    delete element.dataset.tip
    element.removeAttribute('aria-description')
  }
}

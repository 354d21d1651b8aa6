<script setup lang="ts">
import { useElementSize, useStorage } from '@vueuse/core'
import { SplitterGroup, SplitterPanel, SplitterResizeHandle } from 'reka-ui'
import { computed, defineAsyncComponent, ref } from 'vue'

import ColourScale from '../sketch/ColourScale.vue'
import FrameStrip from '../sketch/FrameStrip.vue'
import SketchView from '../sketch/SketchView.vue'
import { useCase } from '../stores/case'
import { useLines } from '../stores/lines'

/**
 * The place of the drawing, which it shares with a plot when there is one: beside it for upright or short sections, below it for long
 * ones. The border between both is dragged.
 */
const props = defineProps<{ mode: 'plain' | 'grid' | 'field'; draw: boolean; reads: boolean }>()
const emit = defineEmits<{ condition: [boundary: string] }>()
const PlotPanel = defineAsyncComponent(() => import('../stages/read/PlotPanel.vue'))
const theCase = useCase()
const lines = useLines()
const host = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(host)
/** Longer than this times their height, sections lie above their plot. */
const LONG = 2.6
const [LEAST_WIDTH, LEAST_HEIGHT] = [428, 268]

const plotted = computed(() => props.reads && props.mode === 'field' && lines.open)
const beside = computed(() => {
  const b = theCase.sketch?.bounds
  if (!b) return true
  const long = (b[2]! - b[0]!) / Math.max(b[3]! - b[1]!, 1e-12)
  // Beside each other both need their width.
  return long < LONG && width.value >= 2 * LEAST_WIDTH
})
const share = useStorage('wattikos.plot.share', { beside: 50, below: 62 })
</script>

<template>
  <section ref="host" class="sheet drawing" aria-label="Sketch">
    <SplitterGroup
      :key="String(beside)"
      :direction="beside ? 'horizontal' : 'vertical'"
      class="both"
      @layout="plotted && $event.length === 2 && (share = { ...share, [beside ? 'beside' : 'below']: $event[1] ?? 50 })"
    >
      <SplitterPanel id="drawing-itself" :order="1" :min-size="beside ? 260 : 100" size-unit="px">
        <SketchView :mode="mode" :draw="draw" :reads="reads" @condition="emit('condition', $event)" />
        <FrameStrip v-if="mode === 'field'" />
        <ColourScale v-if="mode === 'field'" />
      </SplitterPanel>
      <template v-if="plotted">
        <SplitterResizeHandle
          id="drawing-edge-plot"
          :class="['edge', { across: !beside }]"
          aria-label="border between the drawing and the plot"
        />
        <SplitterPanel
          id="drawing-plot"
          :order="2"
          size-unit="px"
          :min-size="beside ? LEAST_WIDTH : Math.min(LEAST_HEIGHT, height - 110)"
          :default-size="((beside ? width : height) * (beside ? share.beside : share.below)) / 100"
        >
          <PlotPanel />
        </SplitterPanel>
      </template>
    </SplitterGroup>
  </section>
</template>

<style scoped>
.drawing {
  padding: 6px 8px;
}
.both {
  flex: 1;
  min-height: 0;
  min-width: 0;
}
.both :deep([data-panel]) {
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}
.edge {
  flex: none;
  width: 8px;
  position: relative;
  cursor: col-resize;
  border-left: 1px solid var(--hair);
}
.edge.across {
  width: auto;
  height: 8px;
  cursor: row-resize;
  border-left: 0;
  border-top: 1px solid var(--hair);
}
</style>

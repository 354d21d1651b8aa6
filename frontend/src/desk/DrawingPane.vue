<script setup lang="ts">
import { useElementSize, useStorage } from '@vueuse/core'
import { SplitterGroup, SplitterPanel, SplitterResizeHandle } from 'reka-ui'
import { computed, defineAsyncComponent, nextTick, ref, watch } from 'vue'

import FieldScale from '../sketch/FieldScale.vue'
import FrameStrip from '../sketch/FrameStrip.vue'
import SketchView from '../sketch/SketchView.vue'
import { useCase } from '../stores/case'
import { useLines } from '../stores/lines'
import { useProbes } from '../stores/probes'

/**
 * The place of the drawing, which it shares with a plot when there is one: beside it for upright or short sections, below it for long
 * ones. The border between both is dragged.
 */
const props = defineProps<{ mode: 'plain' | 'grid' | 'field'; draw: boolean; reads: boolean; panel?: 'series' | 'sizing' }>()
const emit = defineEmits<{ condition: [boundary: string]; below: [wanted: boolean] }>()
const PlotPanel = defineAsyncComponent(() => import('../stages/read/PlotPanel.vue'))
const SizingPanel = defineAsyncComponent(() => import('../stages/size/SizingPanel.vue'))
const SeriesPanel = defineAsyncComponent(() => import('../stages/vary/SeriesPanel.vue'))
const theCase = useCase()
const lines = useLines()
const probes = useProbes()
const host = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(host)
/** Longer than this times their height, sections lie above their plot. */
const SLENDER = 6
const [LEAST_WIDTH, LEAST_HEIGHT] = [428, 298]

const wanted = computed(
  () => Boolean(props.panel) || (props.reads && props.mode === 'field' && (lines.open || probes.course !== '')),
)
/** The plot comes when there is room for it. */
const plotted = ref(false)
/** Room that labels take around a section, px, and how much higher the place is with a plot below. */
const [LABELS_ACROSS, LABELS_ABOVE, MORE] = [280, 150, 118]
const beside = computed(() => {
  const b = theCase.sketch?.bounds
  if (!b) return true
  const [w, h] = [Math.max(b[2]! - b[0]!, 1e-12), Math.max(b[3]! - b[1]!, 1e-12)]
  // Slender sections are stretched; others stand where they are drawn larger.
  if (width.value < 2 * LEAST_WIDTH || w / h > SLENDER) return false
  const scale = (across: number, above: number) =>
    Math.min(Math.max(across - LABELS_ACROSS, 1) / w, Math.max(above - LABELS_ABOVE, 1) / h)
  return scale(width.value / 2, height.value) >= scale(width.value, height.value + (plotted.value ? 0 : MORE) - LEAST_HEIGHT)
})
watch(
  [wanted, beside],
  async () => {
    emit('below', wanted.value && !beside.value)
    await nextTick()
    requestAnimationFrame(() => requestAnimationFrame(() => (plotted.value = wanted.value)))
  },
  { immediate: true },
)
const share = useStorage('wattikos.plot.share', { beside: 50, below: 50 })
let layout: number[] = []
/** What the border was dragged to is kept. */
function remember(dragging: boolean): void {
  const part = layout[1]
  if (dragging || part === undefined) return
  const whole = layout.reduce((sum, one) => sum + one, 0)
  share.value = { ...share.value, [beside.value ? 'beside' : 'below']: (100 * part) / whole }
}
</script>

<template>
  <section ref="host" class="sheet drawing" aria-label="Sketch">
    <SplitterGroup :key="String(beside)" :direction="beside ? 'horizontal' : 'vertical'" class="both" @layout="layout = $event">
      <SplitterPanel id="drawing-itself" :order="1" :min-size="beside ? 260 : 100" size-unit="px">
        <SketchView :mode="mode" :draw="draw" :reads="reads" @condition="emit('condition', $event)" />
        <FrameStrip v-if="mode === 'field'" />
        <FieldScale v-if="mode === 'field'" />
      </SplitterPanel>
      <template v-if="plotted">
        <SplitterResizeHandle
          id="drawing-edge-plot"
          :class="['edge', { across: !beside }]"
          aria-label="border between the drawing and the plot"
          @dragging="remember"
        />
        <SplitterPanel
          id="drawing-plot"
          :order="2"
          size-unit="px"
          :min-size="beside ? LEAST_WIDTH : Math.min(LEAST_HEIGHT, Math.max(height - 110, 60))"
          :default-size="
            Math.max(...(beside ? [LEAST_WIDTH, (width * share.beside) / 100] : [LEAST_HEIGHT, (height * share.below) / 100]))
          "
        >
          <SeriesPanel v-if="panel === 'series'" />
          <SizingPanel v-else-if="panel === 'sizing'" />
          <PlotPanel v-else :tall="beside" />
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

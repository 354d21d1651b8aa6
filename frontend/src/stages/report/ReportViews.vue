<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'

import LinesPlot from '../read/LinesPlot.vue'
import { usePicture } from '../../sketch/handing'
import SketchView from '../../sketch/SketchView.vue'
import { useLines } from '../../stores/lines'
import { useReading } from '../../stores/reading'
import { useViews, type View } from '../../stores/views'

/** The views that the report is to have, each as a picture and, where lines are plotted in it, their plot. */
const emit = defineEmits<{ ready: [] }>()
const views = useViews()
const lines = useLines()
const reading = useReading()
const { svg, settled } = usePicture()

interface Printed {
  view: View
  picture: string
  plot: string
}
const wanted = computed(() => views.views.filter((view) => view.printed))
const printed = ref<Printed[]>([])
/** Pictures are made one after the other, in a place beside the paper. */
const making = ref(true)
const plotting = ref(false)
const darkroom = ref<HTMLElement | null>(null)

const asPicture = (text: string) => `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`
const TRIES = 200

async function plotOf(view: View): Promise<string> {
  plotting.value = view.lines.length > 0
  if (!plotting.value) return ''
  for (let i = 0; i < TRIES; i++) {
    await new Promise((resolve) => setTimeout(resolve, 50))
    const drawn = darkroom.value?.querySelector('.plot-place x-vue-echarts svg')
    const known = lines.lines
      .filter((line) => lines.plotted.includes(line.name))
      .every((line) => lines.problemOf(line) || lines.at(line, reading.runId, reading.frameNumber))
    if (drawn?.querySelector('path') && known) {
      const copy = drawn.cloneNode(true) as SVGElement
      copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
      return asPicture(copy.outerHTML)
    }
  }
  return ''
}

onMounted(async () => {
  const before = views.seen('')
  for (let i = 0; i < TRIES && !darkroom.value?.querySelector('.picture-place svg.layer path'); i++)
    await new Promise((resolve) => setTimeout(resolve, 50))
  for (const view of wanted.value) {
    await views.apply(view)
    await settled()
    await settled()
    const picture = svg(view.name)
    const plot = await plotOf(view)
    if (picture) printed.value.push({ view, picture: asPicture(picture), plot })
  }
  plotting.value = false
  await views.apply({ ...before, lines: [] })
  making.value = false
  emit('ready')
})
</script>

<template>
  <section v-if="wanted.length" class="views">
    <h2>Views</h2>
    <figure v-for="one in printed" :key="one.view.name" data-test="printed-view">
      <img :src="one.picture" :alt="`${one.view.name}: ${one.view.field}`" />
      <img v-if="one.plot" :src="one.plot" :alt="`${one.view.plotted || one.view.field} along ${one.view.lines.join(', ')}`" />
      <figcaption class="small muted">
        {{ one.view.name
        }}<template v-if="one.plot">; {{ one.view.plotted || one.view.field }} along {{ one.view.lines.join(', ') }}</template>
      </figcaption>
    </figure>
    <div v-if="making" ref="darkroom" class="darkroom no-print" aria-hidden="true">
      <div class="picture-place"><SketchView mode="field" /></div>
      <div v-if="plotting" class="plot-place"><LinesPlot tall /></div>
    </div>
  </section>
</template>

<style scoped>
.views {
  break-before: page;
}
h2 {
  font-family: var(--font-title);
  font-size: 13px;
  margin: 0 0 4px;
}
figure {
  margin: 0 0 10px;
  break-inside: avoid;
}
img {
  display: block;
  width: 100%;
}
.darkroom {
  position: fixed;
  left: -4000px;
  top: 0;
  width: 690px;
}
.picture-place,
.plot-place {
  width: 690px;
  height: 300px;
  display: flex;
  flex-direction: column;
}
</style>

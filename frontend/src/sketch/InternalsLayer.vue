<script setup lang="ts">
import { computed } from 'vue'

import type { Sketch } from '../api/client'
import { blowing } from './internals'
import { ringsPath, type Viewport } from './viewport'

/** What stands in streams: screens, packed beds and cores by their pattern, fans by arrows; white `over` a field. */
const props = defineProps<{ view: Viewport; sketch: Sketch; over: boolean }>()
const filled = computed(() => props.sketch.parts.filter((part) => part.internal))
const fans = computed(() => blowing(props.view, props.sketch))
</script>

<template>
  <g>
    <defs>
      <pattern id="screen" width="5" height="5" patternUnits="userSpaceOnUse">
        <path d="M0,2.5H5M2.5,0V5" class="internal-mesh" />
      </pattern>
      <pattern id="screen-over" width="5" height="5" patternUnits="userSpaceOnUse">
        <path d="M0,2.5H5M2.5,0V5" class="internal-mesh over" />
      </pattern>
      <pattern id="fins" width="12" height="6" patternUnits="userSpaceOnUse">
        <path d="M0,3H12" class="internal-mesh" />
        <circle cx="6" cy="3" r="1.6" class="fin-tube" />
      </pattern>
      <pattern id="grains" width="9" height="9" patternUnits="userSpaceOnUse">
        <circle cx="2.5" cy="2.5" r="1.4" class="internal-grain" />
        <circle cx="7" cy="7" r="1.4" class="internal-grain" />
      </pattern>
    </defs>
    <path
      v-for="part in filled"
      :key="`internal ${part.name}`"
      :d="ringsPath(view, part.rings)"
      :class="['internal', part.internal!.kind, { over }]"
      fill-rule="evenodd"
    >
      <title>{{ part.name }}: {{ part.internal!.flag }}</title>
    </path>
    <g v-for="fan in fans" :key="`fan ${fan.name}`" class="blowing" :class="{ over }">
      <path :d="fan.shafts" />
      <path :d="fan.heads" class="head" />
    </g>
  </g>
</template>

<style scoped>
.internal {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1;
}
.internal.resistance {
  fill: url('#screen');
}
.internal.porous {
  fill: url('#grains');
}
.internal.core {
  fill: url('#fins');
}
.fin-tube {
  fill: var(--ink);
}
.internal.over {
  stroke: #fff;
  stroke-opacity: 0.8;
}
.internal.over.resistance {
  fill: url('#screen-over');
}
.internal.over.core,
.internal.over.porous {
  fill-opacity: 0.35;
}
.internal-mesh.over {
  stroke: #fff;
  stroke-opacity: 0.7;
}
.internal-mesh {
  fill: none;
  stroke: var(--ink);
  stroke-width: 0.8;
}
.internal-grain {
  fill: var(--hair);
}
.blowing path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
}
.blowing .head {
  fill: var(--ink);
  stroke: none;
}
.blowing.over path {
  stroke: #fff;
}
.blowing.over .head {
  fill: #fff;
  stroke: none;
}
</style>

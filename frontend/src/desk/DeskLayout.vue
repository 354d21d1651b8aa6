<script setup lang="ts">
import { useMediaQuery, useStorage } from '@vueuse/core'
import { SplitterGroup, SplitterPanel, SplitterResizeHandle } from 'reka-ui'
import { computed, ref } from 'vue'

import { useSession } from '../stores/session'

/**
 * The panes of the desk: the drawing above, and Given, the form of the stage and the Ledger below it. Their borders are dragged, or
 * moved with the arrow keys; Given, the Ledger and all below the drawing fold. It is remembered for each person in this browser. In a
 * narrow window the panes stand one below the other.
 */
const wide = window.innerWidth >= 1600
const session = useSession()
const LOWER = window.innerHeight >= 1000 ? 420 : 324
const GIVEN = wide ? 340 : 292
const LEDGER = wide ? 700 : 500
const narrow = useMediaQuery('(max-width: 959px), (max-height: 499px)')
type Panel = InstanceType<typeof SplitterPanel>
const lower = ref<Panel | null>(null)
const given = ref<Panel | null>(null)
const ledger = ref<Panel | null>(null)
const panels = { lower, given, ledger }
const folded = computed(() => ({
  lower: lower.value?.isCollapsed ?? false,
  given: given.value?.isCollapsed ?? false,
  ledger: ledger.value?.isCollapsed ?? false,
}))

function fold(which: keyof typeof panels): void {
  const panel = panels[which].value
  if (panel?.isCollapsed) panel.expand()
  else panel?.collapse()
}

/** What is below the drawing keeps this height at the most while the drawing shares its place with a plot below it, px. */
const LOW = 196
/** The height it comes back to, also when the desk is opened anew. */
const before = useStorage('wattikos.desk.before-plot', 0)

/** Room for a plot below the drawing: what is below both steps back, and comes back to its height after. */
function giveRoom(wanted: boolean): void {
  const panel = lower.value
  if (!panel || panel.isCollapsed) return
  if (wanted && window.innerHeight < 1000 && panel.getSize() > LOW) {
    before.value = panel.getSize()
    panel.resize(LOW)
  } else if (!wanted && before.value) {
    panel.resize(before.value)
    before.value = 0
  }
}

defineExpose({ fold, giveRoom })
</script>

<template>
  <div v-if="narrow" class="stacked">
    <div class="drawing"><slot name="drawing" /></div>
    <slot name="form" />
    <slot name="given" />
    <slot name="ledger" />
  </div>
  <SplitterGroup v-else id="desk" direction="vertical" :auto-save-id="`wattikos.desk.rows.${session.user}`" class="panes">
    <SplitterPanel id="desk-drawing" :min-size="200" size-unit="px" :order="1"><slot name="drawing" /></SplitterPanel>
    <SplitterResizeHandle
      id="desk-edge-lower"
      class="edge across"
      aria-label="border between the drawing and what is below it"
      @dblclick="fold('lower')"
    />
    <SplitterPanel
      id="desk-lower"
      ref="lower"
      collapsible
      :collapsed-size="30"
      :default-size="LOWER"
      :min-size="160"
      size-unit="px"
      :order="2"
    >
      <v-btn v-if="folded.lower" variant="text" class="strip flat" data-test="unfold-lower" @click="fold('lower')"
        >▴ Given, {{ $route.params.stage ?? 'draw' }}, Ledger</v-btn
      >
      <SplitterGroup
        v-show="!folded.lower"
        id="desk-below"
        direction="horizontal"
        :auto-save-id="`wattikos.desk.columns.${session.user}`"
      >
        <SplitterPanel
          id="desk-given"
          ref="given"
          collapsible
          :collapsed-size="30"
          :default-size="GIVEN"
          :min-size="180"
          size-unit="px"
          :order="1"
        >
          <v-btn v-if="folded.given" variant="text" class="strip" data-test="unfold-given" @click="fold('given')">Given ▸</v-btn>
          <slot v-else name="given" :fold="() => fold('given')" />
        </SplitterPanel>
        <SplitterResizeHandle
          id="desk-edge-given"
          class="edge"
          aria-label="border between Given and the form"
          @dblclick="fold('given')"
        />
        <SplitterPanel id="desk-form" :min-size="320" size-unit="px" :order="2"
          ><slot name="form" :fold="() => fold('lower')"
        /></SplitterPanel>
        <SplitterResizeHandle
          id="desk-edge-ledger"
          class="edge"
          aria-label="border between the form and the Ledger"
          @dblclick="fold('ledger')"
        />
        <SplitterPanel
          id="desk-ledger"
          ref="ledger"
          collapsible
          :collapsed-size="30"
          :default-size="LEDGER"
          :min-size="300"
          size-unit="px"
          :order="3"
        >
          <v-btn v-if="folded.ledger" variant="text" class="strip" data-test="unfold-ledger" @click="fold('ledger')"
            >Ledger ◂</v-btn
          >
          <slot v-else name="ledger" :fold="() => fold('ledger')" />
        </SplitterPanel>
      </SplitterGroup>
    </SplitterPanel>
  </SplitterGroup>
</template>

<style scoped>
.panes {
  min-height: 0;
  flex: 1;
}
.panes :deep(> div),
.panes :deep([data-panel]) {
  display: flex;
  min-width: 0;
  min-height: 0;
}
.panes :deep([data-panel] > .sheet) {
  flex: 1;
}
.edge {
  flex: none;
  width: 7px;
  position: relative;
  cursor: col-resize;
}
.edge.across {
  width: auto;
  height: 7px;
  cursor: row-resize;
}
.edge::after {
  content: '';
  position: absolute;
  inset: calc(50% - 14px) 2px;
  background: var(--line);
}
.edge.across::after {
  inset: 2px calc(50% - 14px);
}
.edge:hover::after,
.edge[data-state='drag']::after,
.edge:focus-visible::after {
  background: var(--heat);
}
.strip {
  flex: 1;
  height: 100% !important;
  padding: 8px 0;
  writing-mode: vertical-rl;
  background: var(--sheet);
  border: 1px solid var(--line);
  justify-content: flex-start;
}
.strip.flat {
  writing-mode: horizontal-tb;
  padding: 0 10px;
}
.stacked {
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.stacked > * {
  min-height: 240px;
}
.stacked .drawing {
  display: flex;
  height: clamp(230px, 40dvh, 460px);
  min-height: 0;
}
/* The drawing stays in view above the forms, where there is room for both. */
@media (min-height: 560px) {
  .stacked .drawing {
    position: sticky;
    top: 0;
    z-index: 2;
  }
}
.stacked .drawing :deep(> .sheet) {
  flex: 1;
}
</style>

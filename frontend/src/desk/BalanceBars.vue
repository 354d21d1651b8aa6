<script setup lang="ts">
import { computed } from 'vue'

import { useUnits } from '../quantity/units'

/** What leaves through each boundary, is released and stored, as bars that sum to nothing; what remains is stated. */
export interface Balance {
  name: string
  kind: string
  shares: { place: string; what: string; value: number }[]
  remainder: number
}
const props = defineProps<{ balances: Balance[] }>()
const units = useUnits()
/** Shares below this part of the largest are told in words alone. */
const SEEN = 0.002

const shown = computed(() =>
  props.balances.map((balance) => {
    const largest = Math.max(...balance.shares.map((share) => Math.abs(share.value)), 1e-300)
    const passing = balance.shares.reduce((sum, share) => sum + Math.abs(share.value), 0) / 2
    return {
      ...balance,
      share: passing > 0 ? Math.abs(balance.remainder) / passing : 0,
      bars: balance.shares
        .filter((share) => Math.abs(share.value) > SEEN * largest)
        .sort((a, b) => a.value - b.value)
        .map((share) => ({
          ...share,
          label: `${share.place} ${WORDS[share.what] ?? share.what}`.trim(),
          width: (50 * Math.abs(share.value)) / largest,
          leaves: share.value > 0,
        })),
    }
  }),
)
const WORDS: Record<string, string> = { flow: '', carried: 'carried', conducted: 'conducted' }
</script>

<template>
  <div class="balances small" tabindex="0" role="group" aria-label="balances" data-test="balances">
    <section v-for="b in shown" :key="b.name" :aria-label="`balance of ${b.name}`">
      <p>
        <b>{{ b.name }}</b> <span class="muted">in to the left, out to the right; what remains</span>
        {{ units.withUnit(b.remainder, b.kind, 2) }}
        <span class="muted">({{ b.share === 0 ? 0 : b.share.toExponential(0) }} of what passes)</span>
      </p>
      <div v-for="bar in b.bars" :key="bar.label" class="bar">
        <span v-tip="bar.label" class="name">{{ bar.label }}</span>
        <span class="track"
          ><i
            :class="{ leaves: bar.leaves }"
            :style="{ width: `${bar.width}%`, left: bar.leaves ? '50%' : `${50 - bar.width}%` }"
          ></i
        ></span>
        <span class="number">{{ units.withUnit(bar.value, b.kind, 4) }}</span>
      </div>
    </section>
  </div>
</template>

<style scoped>
.balances {
  max-height: 190px;
  overflow: auto;
  padding: 4px var(--pad);
  border-bottom: 1px solid var(--hair);
}
p {
  margin: 2px 0;
}
.bar {
  display: grid;
  grid-template-columns: minmax(90px, 34%) minmax(60px, 1fr) 84px;
  gap: 8px;
  align-items: center;
  line-height: 1.35;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.track {
  position: relative;
  height: 9px;
  background: linear-gradient(to right, transparent calc(50% - 0.5px), var(--line) 0, var(--line) calc(50% + 0.5px), transparent 0);
}
.track i {
  position: absolute;
  top: 0;
  bottom: 0;
  background: var(--muted);
}
.track i.leaves {
  background: var(--heat);
}
.number {
  text-align: right;
}
</style>

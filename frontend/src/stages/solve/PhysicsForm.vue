<script setup lang="ts">
import { computed } from 'vue'

import TextField from '../../quantity/TextField.vue'
import { withDefaultUnit } from '../../quantity/entry'
import { useCase } from '../../stores/case'

/** What physics matters: steady or in time, gravity, density, friction heat; and how the time runs. */
const theCase = useCase()
const physics = computed(() => theCase.document?.physics)
const time = computed(() => theCase.document?.time)
const inTime = computed(() => physics.value?.regime === 'time')
const heavy = computed(() => Boolean(physics.value?.gravity_x?.trim() || physics.value?.gravity_y?.trim()))
const round = computed(() => theCase.document?.section.extent === 'axisymmetric')
const chosen = (event: Event) => (event.target as HTMLSelectElement).value

/** Gravity as people say it: which way down is on the sketch. */
const down = computed(() => {
  if (!heavy.value) return 'none'
  const x = physics.value?.gravity_x?.trim()
  const y = physics.value?.gravity_y?.trim()
  if (!x && y === '-9.81 m/s^2') return 'bottom'
  if (!y && x === '-9.81 m/s^2') return 'left'
  if (!y && x === '9.81 m/s^2') return 'right'
  return 'other'
})

/** Parts that can begin at a temperature of their own; one alone begins at that of all. */
const parts = computed(() => {
  const names = (theCase.document?.section.parts ?? []).filter((p) => p.material !== 'void').map((p) => p.name)
  return names.length > 1 ? names : []
})

function setBeginning(part: string, event: Event): void {
  const at = (event.target as HTMLInputElement).value.trim()
  theCase.edit(`time.part_temperatures.${part}`, (d) => {
    const others = Object.entries(d.time.part_temperatures ?? {}).filter(([name]) => name !== part)
    d.time.part_temperatures = Object.fromEntries(at ? [...others, [part, withDefaultUnit(at, '°C')]] : others)
  })
}

/** Times apart by semicolons: an expression may have commas of its own. */
function setFrames(event: Event): void {
  const times = (event.target as HTMLInputElement).value.split(';').map((text) => text.trim()).filter(Boolean)
  theCase.edit('time.frames', (d) => (d.time.frames = times.map((text) => withDefaultUnit(text, 's'))))
}

function setDown(event: Event): void {
  const way = chosen(event)
  const vectors: Record<string, [string, string]> = { none: ['', ''], bottom: ['', '-9.81 m/s^2'], left: ['-9.81 m/s^2', ''], right: ['9.81 m/s^2', ''], other: ['6.94 m/s^2', '-6.94 m/s^2'] }
  const [x, y] = vectors[way] ?? ['', '']
  theCase.edit('physics.gravity', (d) => {
    d.physics.gravity_x = x
    d.physics.gravity_y = round.value ? '' : y
    if (way === 'other' && round.value) d.physics.gravity_x = '-1.62 m/s^2'
  })
}
</script>

<template>
  <div v-if="physics && time" class="form">
    <label for="regime">Regime</label>
    <select id="regime" class="pad-select" data-test="regime" :value="physics.regime" @change="theCase.setText('physics.regime', chosen($event))">
      <option value="steady">steady</option>
      <option value="time">in time</option>
    </select>
    <label for="down">Down is</label>
    <select id="down" class="pad-select" data-test="down" :value="down" @change="setDown">
      <option value="none">nowhere: no weight</option>
      <option v-if="!round" value="bottom">to the bottom</option>
      <option value="left">to the left</option>
      <option value="right">to the right</option>
      <option value="other">another vector</option>
    </select>
    <template v-if="down === 'other'">
      <label for="gravity-x">Gravity x</label>
      <TextField id="gravity-x" path="physics.gravity_x" :value="physics.gravity_x" label="gravity along x" kind="acceleration" unit="m/s^2" />
      <template v-if="!round">
        <label for="gravity-y">Gravity y</label>
        <TextField id="gravity-y" path="physics.gravity_y" :value="physics.gravity_y" label="gravity along y" kind="acceleration" unit="m/s^2" />
      </template>
    </template>
    <template v-if="heavy">
      <label for="density" title="in the weight alone: liquids, small differences of temperature; in all: gases">Density varies</label>
      <select id="density" class="pad-select" :value="physics.density" @change="theCase.setText('physics.density', chosen($event))">
        <option value="in_weight">in the weight alone</option>
        <option value="varying">in all balances</option>
      </select>
      <label for="rayleigh" title="the length that Rayleigh numbers in the Ledger are on">Rayleigh on</label>
      <select id="rayleigh" class="pad-select" data-test="rayleigh" :value="physics.rayleigh_length" @change="theCase.setText('physics.rayleigh_length', chosen($event))">
        <option value="gap">the gap between warm and cold</option>
        <option value="height">the height</option>
      </select>
    </template>
    <label for="friction">Friction</label>
    <label class="row"><input id="friction" type="checkbox" :checked="physics.friction_heat" @change="theCase.edit('physics.friction_heat', (d) => (d.physics.friction_heat = ($event.target as HTMLInputElement).checked))" /> heats the fluid</label>
    <label for="age" title="how long ago fluid entered: mean, shortest, and what leaves too early">Age</label>
    <label class="row"><input id="age" type="checkbox" data-test="age" :checked="physics.age" @change="theCase.edit('physics.age', (d) => (d.physics.age = ($event.target as HTMLInputElement).checked))" /> of the fluid is followed</label>
    <template v-if="physics.age">
      <label for="age-limit" title="a time that fluid is to stay: the share that leaves earlier is told">To stay for</label>
      <TextField id="age-limit" path="physics.age_limit" :value="physics.age_limit" label="time to stay" kind="time" unit="s" placeholder="no time asked" />
      <label for="age-diffusivity" title="by which ages mix; none: fluid keeps its age on its way">Diffusivity</label>
      <TextField id="age-diffusivity" path="physics.age_diffusivity" :value="physics.age_diffusivity" label="diffusivity of age" kind="diffusivity" unit="m^2/s" placeholder="none" />
    </template>
    <template v-if="inTime">
      <label for="time-end">Ends at</label>
      <TextField id="time-end" path="time.end" :value="time.end" label="end" kind="time" unit="s" />
      <label for="time-every" title="fifty frames when empty">A frame every</label>
      <TextField id="time-every" path="time.every" :value="time.every" label="interval of frames" kind="time" unit="s" placeholder="1/50 of it" />
      <label for="time-frames" title="more frames, at these times">and at</label>
      <input id="time-frames" class="pad-input" data-test="time-frames" :value="(time.frames ?? []).join('; ')" placeholder="none: or 10 s; 1 min" @change="setFrames" />
      <label for="time-begin">Begins with</label>
      <select id="time-begin" class="pad-select" :value="time.begin" @change="theCase.setText('time.begin', chosen($event))">
        <option value="given">a temperature</option>
        <option value="former_run">the last run's fields</option>
      </select>
      <template v-if="time.begin === 'given'">
        <label for="time-temperature" title="may vary with x and y">at</label>
        <TextField id="time-temperature" path="time.temperature" :value="time.temperature" label="temperature at the beginning" kind="temperature" unit="°C" placeholder="middle of those given" />
        <template v-for="(part, i) in parts" :key="part">
          <label :for="`time-part-${i}`" class="part" :title="`temperature of ${part} at the beginning, where it is another one`">{{ part }}</label>
          <input :id="`time-part-${i}`" class="pad-input" :data-part-begins="part" :class="{ bad: theCase.problemOf(`time.part_temperatures.${part}`) }" :value="time.part_temperatures?.[part] ?? ''" placeholder="the same" @change="setBeginning(part, $event)" />
        </template>
      </template>
      <label for="time-step">{{ time.fixed ? 'Step' : 'First step' }}</label>
      <TextField id="time-step" path="time.first_step" :value="time.first_step" label="step" kind="time" unit="s" placeholder="found" />
      <label for="time-fixed">Steps</label>
      <select id="time-fixed" class="pad-select" :value="time.fixed ? 'fixed' : 'follow'" @change="theCase.edit('time.fixed', (d) => { d.time.fixed = chosen($event) === 'fixed'; if (d.time.fixed && !d.time.first_step) d.time.first_step = '1 s' })">
        <option value="follow">follow their error</option>
        <option value="fixed">all the same</option>
      </select>
      <label for="time-order">Order</label>
      <select id="time-order" class="pad-select" :value="String(time.order)" @change="theCase.edit('time.order', (d) => (d.time.order = Number(chosen($event)) as 1 | 2))">
        <option value="2">second</option>
        <option value="1">first</option>
      </select>
    </template>
  </div>
</template>

<style scoped>
.form { grid-template-columns: max-content minmax(0, 1fr); gap: 4px 6px; }
.part { padding-left: 8px; max-width: 90px; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
</style>

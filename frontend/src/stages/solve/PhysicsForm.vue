<script setup lang="ts">
import { computed } from 'vue'

import QuantityField from '../../quantity/QuantityField.vue'
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

function setBeginning(part: string, text: string): void {
  const at = text.trim()
  theCase.edit(`time.part_temperatures.${part}`, (d) => {
    const others = Object.entries(d.time.part_temperatures ?? {}).filter(([name]) => name !== part)
    d.time.part_temperatures = Object.fromEntries(at ? [...others, [part, withDefaultUnit(at, '°C')]] : others)
  })
}

/** Times apart by semicolons: an expression may have commas of its own. */
function setFrames(text: string): void {
  const times = text
    .split(';')
    .map((one) => one.trim())
    .filter(Boolean)
  theCase.edit('time.frames', (d) => (d.time.frames = times.map((one) => withDefaultUnit(one, 's'))))
}

function setDown(way: string): void {
  const vectors: Record<string, [string, string]> = {
    none: ['', ''],
    bottom: ['', '-9.81 m/s^2'],
    left: ['-9.81 m/s^2', ''],
    right: ['9.81 m/s^2', ''],
    other: ['6.94 m/s^2', '-6.94 m/s^2'],
  }
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
    <v-label id="regime-label" for="regime">Regime</v-label>
    <v-select
      id="regime"
      data-test="regime"
      :model-value="physics.regime"
      :items="[
        { value: 'steady', title: 'steady' },
        { value: 'time', title: 'in time' },
      ]"
      @update:model-value="theCase.setText('physics.regime', $event)"
    />
    <v-label id="streams-label" v-tip="'laminar or turbulent: automatic compares the Reynolds number of each stream'" for="streams"
      >Streams</v-label
    >
    <v-select
      id="streams"
      data-test="streams"
      :model-value="physics.flow"
      :items="[
        { value: 'automatic', title: 'automatic' },
        { value: 'laminar', title: 'laminar' },
        { value: 'turbulent', title: 'turbulent' },
      ]"
      @update:model-value="theCase.setText('physics.flow', $event)"
    />
    <template v-if="physics.flow !== 'laminar'">
      <v-label id="prandtl-label" v-tip="'turbulent Prandtl number: 0.85 + 0.7/Pe_t (Kays 1994), or 0.85 everywhere'" for="prandtl"
        >Turbulent Pr</v-label
      >
      <v-select
        id="prandtl"
        data-test="turbulent-prandtl"
        :model-value="physics.turbulent_prandtl"
        :items="[
          { value: 'kays', title: 'rises to walls' },
          { value: 'constant', title: '0.85' },
        ]"
        @update:model-value="theCase.setText('physics.turbulent_prandtl', $event)"
      />
      <v-label
        id="stress-label"
        v-tip="
          'limited to a share of the turbulence energy (shear stress transport): right where streams leave smooth walls; free: right where ribs and steps throw them off'
        "
        for="stress"
        >Shear stress</v-label
      >
      <v-select
        id="stress"
        data-test="turbulent-stress"
        :model-value="physics.turbulent_stress"
        :items="[
          { value: 'limited', title: 'limited' },
          { value: 'free', title: 'free, for ribs' },
        ]"
        @update:model-value="theCase.setText('physics.turbulent_stress', $event)"
      />
      <v-label
        id="production-label"
        v-tip="
          'of turbulence: by strain, as in the model, which makes too much turbulence where jets strike walls; by strain that turns there is none where streams stagnate (Kato and Launder 1993)'
        "
        for="production"
        >Production</v-label
      >
      <v-select
        id="production"
        data-test="turbulent-production"
        :model-value="physics.turbulent_production"
        :items="[
          { value: 'strain', title: 'by strain' },
          { value: 'turning', title: 'by strain that turns' },
        ]"
        @update:model-value="theCase.setText('physics.turbulent_production', $event)"
      />
      <v-label
        id="transition-label"
        v-tip="
          'layers on bars, vanes and plates may begin laminar: intermittency by Menter and others (2015); it needs resolved layers; automatic: where streams pass bodies at Reynolds numbers below 200,000'
        "
        for="transition"
        >Wall layers are</v-label
      >
      <v-select
        id="transition"
        data-test="transition"
        :model-value="physics.transition"
        :items="[
          { value: 'by_number', title: 'automatic' },
          { value: 'throughout', title: 'turbulent all along' },
          { value: 'followed', title: 'laminar at first' },
        ]"
        @update:model-value="theCase.setText('physics.transition', $event)"
      />
    </template>
    <v-label id="down-label" for="down">Gravity</v-label>
    <v-select
      id="down"
      data-test="down"
      :model-value="down"
      :items="[
        { value: 'none', title: 'none' },
        ...(!round ? [{ value: 'bottom', title: 'to the bottom' }] : []),
        { value: 'left', title: 'to the left' },
        { value: 'right', title: 'to the right' },
        { value: 'other', title: 'another vector' },
      ]"
      @update:model-value="setDown"
    />
    <template v-if="down === 'other'">
      <v-label id="gravity-x-label" for="gravity-x">Gravity x</v-label>
      <TextField id="gravity-x" path="physics.gravity_x" :value="physics.gravity_x" kind="acceleration" unit="m/s^2" />
      <template v-if="!round">
        <v-label id="gravity-y-label" for="gravity-y">Gravity y</v-label>
        <TextField id="gravity-y" path="physics.gravity_y" :value="physics.gravity_y" kind="acceleration" unit="m/s^2" />
      </template>
    </template>
    <template v-if="heavy">
      <v-label
        id="density-label"
        v-tip="'in buoyancy only: liquids, small differences of temperature; fully variable: gases'"
        for="density"
        >Density varies</v-label
      >
      <v-select
        id="density"
        :model-value="physics.density"
        :items="[
          { value: 'in_weight', title: 'in buoyancy only' },
          { value: 'varying', title: 'fully' },
        ]"
        @update:model-value="theCase.setText('physics.density', $event)"
      />
      <v-label id="rayleigh-label" v-tip="'the length that Rayleigh numbers in the Ledger are on'" for="rayleigh"
        >Rayleigh on</v-label
      >
      <v-select
        id="rayleigh"
        data-test="rayleigh"
        :model-value="physics.rayleigh_length"
        :items="[
          { value: 'gap', title: 'the gap between warm and cold' },
          { value: 'height', title: 'the height' },
        ]"
        @update:model-value="theCase.setText('physics.rayleigh_length', $event)"
      />
    </template>
    <v-label id="friction-label" for="friction">Friction</v-label>
    <v-checkbox
      id="friction"
      :model-value="physics.friction_heat"
      label="heats the fluid"
      @update:model-value="theCase.edit('physics.friction_heat', (d) => (d.physics.friction_heat = Boolean($event)))"
    />
    <v-label id="age-label" v-tip="'how long ago fluid entered: mean, shortest, and what leaves too early'" for="age">Age</v-label>
    <v-checkbox
      id="age"
      data-test="age"
      :model-value="physics.age"
      label="of the fluid is followed"
      @update:model-value="theCase.edit('physics.age', (d) => (d.physics.age = Boolean($event)))"
    />
    <template v-if="physics.age">
      <v-label id="age-limit-label" v-tip="'a time that fluid is to stay: the share that leaves earlier is told'" for="age-limit"
        >To stay for</v-label
      >
      <TextField
        id="age-limit"
        path="physics.age_limit"
        :value="physics.age_limit"
        kind="time"
        unit="s"
        placeholder="no time asked"
      />
      <v-label id="age-diffusivity-label" v-tip="'by which ages mix; none: fluid keeps its age on its way'" for="age-diffusivity"
        >Diffusivity</v-label
      >
      <TextField
        id="age-diffusivity"
        path="physics.age_diffusivity"
        :value="physics.age_diffusivity"
        kind="diffusivity"
        unit="m^2/s"
        placeholder="none"
      />
    </template>
    <template v-if="inTime">
      <v-label id="time-end-label" for="time-end">Ends at</v-label>
      <TextField id="time-end" path="time.end" :value="time.end" kind="time" unit="s" />
      <v-label id="time-every-label" v-tip="'fifty frames when empty'" for="time-every">A frame every</v-label>
      <TextField id="time-every" path="time.every" :value="time.every" kind="time" unit="s" placeholder="1/50 of it" />
      <v-label id="time-frames-label" v-tip="'more frames, at these times'" for="time-frames">and at</v-label>
      <QuantityField
        id="time-frames"
        data-test="time-frames"
        :value="(time.frames ?? []).join('; ')"
        placeholder="none: or 10 s; 1 min"
        @enter="setFrames"
      />
      <v-label id="time-begin-label" for="time-begin">Begins with</v-label>
      <v-select
        id="time-begin"
        :model-value="time.begin"
        :items="[
          { value: 'given', title: 'a temperature' },
          { value: 'former_run', title: 'the last run\'s fields' },
        ]"
        @update:model-value="theCase.setText('time.begin', $event)"
      />
      <template v-if="time.begin === 'given'">
        <v-label id="time-temperature-label" v-tip="'may vary with x and y'" for="time-temperature">at</v-label>
        <TextField
          id="time-temperature"
          path="time.temperature"
          :value="time.temperature"
          kind="temperature"
          unit="°C"
          placeholder="middle of those given"
        />
        <template v-for="(part, i) in parts" :key="part">
          <v-label
            :id="`time-part-${i}-label`"
            v-tip="`temperature of ${part} at the beginning, where it is another one`"
            :for="`time-part-${i}`"
            class="part"
            >{{ part }}</v-label
          >
          <QuantityField
            :id="`time-part-${i}`"
            :data-part-begins="part"
            :problem="theCase.problemOf(`time.part_temperatures.${part}`)"
            :value="time.part_temperatures?.[part] ?? ''"
            placeholder="the same"
            @enter="setBeginning(part, $event)"
          />
        </template>
      </template>
      <v-label id="time-step-label" for="time-step">{{ time.fixed ? 'Step' : 'First step' }}</v-label>
      <TextField id="time-step" path="time.first_step" :value="time.first_step" kind="time" unit="s" placeholder="found" />
      <v-label id="time-fixed-label" for="time-fixed">Steps</v-label>
      <v-select
        id="time-fixed"
        :model-value="time.fixed ? 'fixed' : 'follow'"
        :items="[
          { value: 'follow', title: 'follow their error' },
          { value: 'fixed', title: 'all the same' },
        ]"
        @update:model-value="
          theCase.edit('time.fixed', (d) => {
            d.time.fixed = $event === 'fixed'
            if (d.time.fixed && !d.time.first_step) d.time.first_step = '1 s'
          })
        "
      />
      <v-label id="time-order-label" for="time-order">Order</v-label>
      <v-select
        id="time-order"
        :model-value="String(time.order)"
        :items="[
          { value: '2', title: 'second' },
          { value: '1', title: 'first' },
        ]"
        @update:model-value="theCase.edit('time.order', (d) => (d.time.order = Number($event) as 1 | 2))"
      />
    </template>
  </div>
</template>

<style scoped>
.form {
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 4px 6px;
}
.part {
  padding-left: 8px;
  max-width: 90px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>

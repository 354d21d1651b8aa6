<script setup lang="ts">
import { onMounted } from 'vue'

import { useUnits } from '../quantity/units'

/** Help: keys, words, units, and how values are written. */
const units = useUnits()
onMounted(() => void units.load().catch(() => undefined))

const KEYS: [string, string][] = [
  ['1 … 8', 'go to a stage: Draw, Conditions, Grid, Solve, Read, Vary, Size, Report'],
  ['Ctrl K', 'all commands by name'],
  ['Ctrl Enter', 'solve the case'],
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo; the whole case'],
  ['Ctrl S', 'save now (it saves by itself a moment after each entry)'],
  ['Tab, Shift Tab', 'from field to field; Enter takes an entry and goes on to the next, Esc leaves it'],
  ['↑ ↓', 'in lists: the next entry; Alt ↑ ↓ in Parts: paint earlier or later'],
  [
    '← →',
    'in the list of boundaries: close or open the copies of a repeated part; on a border of panes or the colour scale: move it',
  ],
  ['Shift or Ctrl click', 'several boundaries at once; Shift drag on the drawing: all in a box'],
  [
    'Enter while drawing',
    'puts a shape in the middle of the section, or closes a polygon; Esc gives up; Alt places without snapping',
  ],
  ['wheel, double click', 'zoom the drawing, see the whole of it'],
]
const WORDS: [string, string][] = [
  ['Given', 'the inputs: named dimensions and values, each a number with a unit or an expression in others'],
  ['Part', 'a shape with a material; later parts are painted over earlier ones'],
  ['Boundary', 'an edge of a part, named after it: “plate, top”; what lies between two parts is “plate | air”'],
  ['Ledger', 'what comes out: wanted (with a target), by hand, solved, grid ± and verdict'],
  ['By hand', 'calculated from relations with a source, range and usual scatter, while you type'],
  ['Solved', 'from the field; struck through when the case has changed since'],
  ['Grid ±', 'how much a finer grid may still change, from three grids'],
  ['Evidence', 'why to believe it: balances, convergence, and findings (to stop at, to check, to note)'],
  ['Run', 'a solution, with the case as it stood'],
  ['Frame', 'the field of one instant of a run in time'],
  ['Line, probe', 'a place of the case that is read in every run: along a line, at a point, in a box or a part'],
  ['View', 'how a run is looked at, kept by name with the case'],
  ['Watch', 'a quantity followed while a case is solved'],
  ['Grid study', 'the same case on several grids: what its quantities point to'],
  ['Series', 'the case at many values of its inputs, by hand or solved point by point'],
  ['Sizing', 'the search for an input at which a solved quantity meets its target'],
  ['Starter', 'a ready case for a kind of equipment'],
]
const WRITING: [string, string][] = [
  ['12 mm', 'a number with a unit; a bare number takes the unit the field had'],
  ['2*gap + 1 mm', 'an expression in inputs, with + − * / ^ and brackets; units must fit'],
  ['gap = 12 mm', 'typed into a field of the drawing or the physics: makes an input of that name'],
  ['20 °C, 5 K', 'temperatures, and differences of temperature: 20 °C + 5 K is 25 °C'],
  ['20 °C + 5 K*x/(1 m)', 'along a boundary: x and y are the place, in time t is the time'],
  ['wall(x)', 'a table from a CSV file, by its name'],
  ['step(t - 10 s)', '0 before ten seconds, 1 after'],
  ['sqrt abs min max sin cos tan exp log round step', 'functions; pi is π; angles are in rad or deg'],
  ['≤ 20 Pa', 'in the Wanted column: a target to stay below; 0.85 is one to reach; empty takes it away'],
  ['300, 500, 800 W', 'under Vary: several values; the unit at the end holds for all'],
  ['mass_of_plate', 'under Size: quantities in an own expression, with their words joined'],
  ['± 5 %', 'under Size, tolerances: two standard deviations, as a share or with a unit'],
  ['1..3 m/s : 5', 'under Vary: five values; by 0.5 for steps, : 7 log for even ratios'],
  ['11 to 13 °C', 'in the Wanted column: between two values'],
]
</script>

<template>
  <main class="help">
    <header class="row">
      <h1>Help</h1>
      <span class="grow"></span>
      <v-btn to="/">Back to the projects</v-btn>
    </header>
    <div class="columns">
      <section class="sheet" aria-labelledby="help-keys">
        <h2 id="help-keys">Keys</h2>
        <v-table class="dense"
          ><tbody>
            <tr v-for="[key, text] in KEYS" :key="key">
              <th scope="row">
                <kbd>{{ key }}</kbd>
              </th>
              <td>{{ text }}</td>
            </tr>
          </tbody></v-table
        >
      </section>
      <section class="sheet" aria-labelledby="help-writing">
        <h2 id="help-writing">How values are written</h2>
        <v-table class="dense"
          ><tbody>
            <tr v-for="[key, text] in WRITING" :key="key">
              <th scope="row">
                <code>{{ key }}</code>
              </th>
              <td>{{ text }}</td>
            </tr>
          </tbody></v-table
        >
      </section>
      <section class="sheet" aria-labelledby="help-words">
        <h2 id="help-words">Words</h2>
        <v-table class="dense"
          ><tbody>
            <tr v-for="[key, text] in WORDS" :key="key">
              <th scope="row">{{ key }}</th>
              <td>{{ text }}</td>
            </tr>
          </tbody></v-table
        >
      </section>
      <section class="sheet" aria-labelledby="help-units">
        <h2 id="help-units">Units</h2>
        <p class="muted small">
          Any unit of the right dimension is taken; these are offered for reading, by a click on a unit in the Ledger.
        </p>
        <v-table class="dense"
          ><tbody>
            <tr v-for="kind in units.catalogue?.kinds ?? []" :key="kind.name">
              <th scope="row">{{ kind.label }}</th>
              <td>{{ kind.units.map((u) => u.label || '–').join(', ') }}</td>
            </tr>
          </tbody></v-table
        >
      </section>
    </div>
  </main>
</template>

<style scoped>
.help {
  min-height: 100dvh;
  padding: 14px 18px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
h1 {
  font-family: var(--font-title);
  font-size: 22px;
  margin: 0;
}
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(520px, 100%), 1fr));
  gap: 12px;
  align-items: start;
}
.sheet {
  padding: 12px 14px;
}
p {
  margin: 0 0 4px;
}
th {
  white-space: normal;
  width: 34%;
  font-weight: 600 !important;
}
code {
  font: inherit;
}
</style>

import { useStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'

import { api, take, type Schemas } from '../api/client'

const KEPT = 'wattikos.units'
const A_FEW = 3

/** Kinds, units and materials, and the units the user likes to read in. */
export const useUnits = defineStore('units', () => {
  const catalogue = ref<Schemas['CatalogueOut'] | null>(null)
  const preferred = useStorage<Record<string, string>>(KEPT, {})
  /** Units that fit what is on the desk, where the user has not chosen one: hours for a store, seconds for a duct. */
  const fitting = ref<Record<string, string>>({})
  const kinds = computed(() => new Map((catalogue.value?.kinds ?? []).map((kind) => [kind.name, kind])))

  async function load(): Promise<void> {
    catalogue.value ??= await take(api.GET('/api/catalogue'))
  }

  function unitOf(kind: string): Schemas['UnitOut'] | undefined {
    const known = kinds.value.get(kind)
    const name = preferred.value[kind] ?? fitting.value[kind] ?? known?.unit
    return known?.units.find((unit) => unit.unit === name) ?? known?.units[0]
  }

  /** Read a kind in the largest unit of which `size` (SI) is a few; in its own where there is no size. */
  function fit(kind: string, size: number | null): void {
    const units = [...(kinds.value.get(kind)?.units ?? [])].sort((a, b) => b.factor - a.factor)
    const unit = size === null ? undefined : units.find((u) => size >= A_FEW * u.factor)
    fitting.value = { ...fitting.value, [kind]: unit?.unit ?? kinds.value.get(kind)?.unit ?? '' }
  }

  /** Read in the next unit of a kind. */
  function nextUnit(kind: string): void {
    const units = kinds.value.get(kind)?.units ?? []
    const at = units.findIndex((unit) => unit.unit === unitOf(kind)?.unit)
    const next = units[(at + 1) % units.length]
    if (!next) return
    preferred.value = { ...preferred.value, [kind]: next.unit }
  }

  /** An SI value in the unit it is read in. */
  function shown(value: number, kind: string): number {
    const unit = unitOf(kind)
    return unit ? value / unit.factor - unit.offset : value
  }

  /** A value in the unit it is read in as SI. */
  function toSi(value: number, kind: string): number {
    const unit = unitOf(kind)
    return unit ? (value + unit.offset) * unit.factor : value
  }

  /** A difference of SI values in the unit it is read in. */
  function shownDifference(value: number, kind: string): number {
    return value / (unitOf(kind)?.factor ?? 1)
  }

  function format(value: number | null | undefined, kind: string, digits = 4): string {
    if (value === null || value === undefined || !Number.isFinite(value)) return ''
    return plain(shown(value, kind), digits)
  }

  function label(kind: string): string {
    return unitOf(kind)?.label ?? ''
  }

  /** The unit of differences: kelvins, but degrees where they are read on another scale. */
  function differenceLabel(kind: string): string {
    const own = label(kind)
    return kind !== 'temperature' ? own : own === '°F' ? 'Δ°F' : 'K'
  }

  function withUnit(value: number | null | undefined, kind: string, digits = 4): string {
    const text = format(value, kind, digits)
    return text ? `${text} ${label(kind)}`.trim() : ''
  }

  /** The same in another unit of its kind where the one it is read in makes it tiny or long. */
  function readably(value: number, kind: string, digits = 4): string {
    const at = (unit: { factor: number; offset: number }) => value / unit.factor - unit.offset
    const within = (number: number, least: number, most: number) => Math.abs(number) >= least && Math.abs(number) < most
    const own = unitOf(kind)
    if (!own || !value || kind === 'temperature' || within(at(own), 0.01, 1e5)) return withUnit(value, kind, digits)
    const others = kinds.value.get(kind)?.units ?? []
    const other = others.find((u) => within(at(u), 0.1, 1e4)) ?? others.find((u) => within(at(u), 0.01, 1e5)) ?? own
    return `${plain(at(other), digits)} ${other.label}`.trim()
  }

  return {
    catalogue,
    kinds,
    load,
    unitOf,
    fit,
    nextUnit,
    shown,
    toSi,
    shownDifference,
    differenceLabel,
    format,
    label,
    withUnit,
    readably,
  }
})

/** A number with so many significant digits, without an exponent where people would not write one. */
export function plain(value: number, digits = 4): string {
  if (value === 0) return '0'
  const size = Math.abs(value)
  if (size >= 1e6 || size < 1e-4) return value.toExponential(Math.max(digits - 2, 1)).replace('e+', 'e')
  const decimals = Math.max(0, digits - 1 - Math.floor(Math.log10(size)))
  return value.toFixed(Math.min(decimals, 8))
}

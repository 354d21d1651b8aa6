import { useDebounceFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'

import { api, take, type CaseDocument, type Schemas } from '../api/client'
import { useCase } from './case'
import { useReading } from './reading'
import { readingOf } from './wishes'

export type Probe = NonNullable<NonNullable<CaseDocument['reading']>['probes']>[number]
export type Found = Schemas['ProbeOut']

/** The probes of the case, and what they find in the frame that is shown. */
export const useProbes = defineStore('probes', () => {
  const theCase = useCase()
  const reading = useReading()
  const probes = computed<Probe[]>(() => theCase.document?.reading?.probes ?? [])
  const found = shallowRef<Found[]>([])
  const problem = ref('')
  /** The field whose course over all frames is wanted; none when empty. */
  const course = ref('')

  const request = computed(() =>
    reading.runId && probes.value.length
      ? { run: reading.runId, body: { probes: probes.value, frame: reading.frameNumber, course: course.value } }
      : null,
  )
  const ask = useDebounceFn(async () => {
    const now = request.value
    if (!now) return
    try {
      const answer = await take(api.POST('/api/runs/{run}/probes', { params: { path: { run: now.run } }, body: now.body }))
      if (now === request.value) found.value = answer
      problem.value = ''
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  }, 80)
  watch(
    request,
    (now) => {
      if (now) void ask()
      else found.value = []
    },
    { immediate: true },
  )
  const foundOf = (name: string) => found.value.find((one) => one.name === name) ?? null

  function add(at: Probe['at'], base = 'probe'): void {
    let name = base
    for (let number = 2; probes.value.some((probe) => probe.name === name); number++) name = `${base} ${number}`
    theCase.edit(`reading.probes.add ${Date.now()}`, (d) => readingOf(d).probes.push({ name, at }))
  }

  function remove(name: string): void {
    theCase.edit(`reading.probes.remove ${Date.now()}`, (d) => {
      readingOf(d).probes = readingOf(d).probes.filter((probe) => probe.name !== name)
    })
  }

  function rename(name: string, to: string): void {
    const wished = to.trim()
    if (!wished || wished === name || probes.value.some((probe) => probe.name === wished)) return
    theCase.edit(`reading.probes.rename ${Date.now()}`, (d) => {
      for (const probe of readingOf(d).probes) if (probe.name === name) probe.name = wished
    })
  }

  return { probes, found, problem, course, foundOf, add, remove, rename }
})

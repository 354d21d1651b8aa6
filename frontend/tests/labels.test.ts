import { describe, expect, it } from 'vitest'

import type { Sketch } from '../src/api/client'
import { placeDimensions } from '../src/sketch/dimensions'
import { inside } from '../src/sketch/flags'
import { FreeSpace, type Spot } from '../src/sketch/labels'
import { labelling } from '../src/sketch/labelling'

const circle = (x: number, y: number, r: number): [number, number][] =>
  Array.from({ length: 33 }, (_, k) => [x + r * Math.cos((k * Math.PI) / 16), y + r * Math.sin((k * Math.PI) / 16)])
const box = (x: number, y: number, width = 60, height = 16): Spot => ({ x, y, width, height })
const apart = (a: Spot, b: Spot) =>
  Math.abs(a.x - b.x) >= (a.width + b.width) / 2 || Math.abs(a.y - b.y) >= (a.height + b.height) / 2

describe('labels on the drawing', () => {
  it('stay where they best stand when nothing is there', () => {
    const { spot, lead } = new FreeSpace(400, 300, []).place(box(200, 90), [200, 100])
    expect(spot).toEqual(box(200, 90))
    expect(lead).toBeNull()
  })

  it('step aside from an outline, with a line to what they name', () => {
    const free = new FreeSpace(400, 300, [circle(200, 150, 20)])
    const best = box(200, 150)
    expect(free.isFree(best)).toBe(false)
    const { spot, lead } = free.place(best, [200, 150])
    expect(free.isFree({ ...spot, x: spot.x + 300 })).toBe(false)
    expect(lead!.from).toEqual([200, 150])
    expect(Math.hypot(spot.x - 200, spot.y - 150)).toBeGreaterThan(20)
    // The lead ends at the edge of the box.
    expect(Math.abs(lead!.to[0] - spot.x) <= 30 && Math.abs(lead!.to[1] - spot.y) <= 8).toBe(true)
  })

  it('do not lie on each other, however many name one place', () => {
    const free = new FreeSpace(500, 400, [])
    const spots = Array.from({ length: 12 }, () => free.place(box(250, 200), [250, 200]).spot)
    for (let i = 0; i < spots.length; i++) for (let j = 0; j < i; j++) expect(apart(spots[i]!, spots[j]!)).toBe(true)
  })

  it('go outwards first', () => {
    const line: [number, number][] = [
      [100, 0],
      [100, 300],
    ]
    const { spot } = new FreeSpace(400, 300, [line]).place(box(100, 150), [100, 150], [1, 0])
    expect(spot.x).toBeGreaterThan(130)
    expect(spot.y).toBeCloseTo(150)
  })

  it('stay where they are allowed to, and on the drawing', () => {
    const free = new FreeSpace(400, 300, [])
    const { spot } = free.place(box(390, 150), [390, 150], [1, 0], (s) => s.y < 100)
    expect(spot.y).toBeLessThan(100)
    expect(spot.x + 30).toBeLessThanOrEqual(400)
  })

  it('stand where they best would when there is no room at all', () => {
    const full = Array.from({ length: 80 }, (_, k): [number, number][] => [
      [0, 4 * k],
      [400, 4 * k],
    ])
    expect(new FreeSpace(400, 300, full).place(box(200, 150), [200, 150]).spot).toEqual(box(200, 150))
  })
})

describe('a drawing with all its labels', () => {
  const ring = (x: number, y: number, r: number) => circle(x, y, r).map((p) => [...p])
  const boxRing = (x0: number, y0: number, x1: number, y1: number) => [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
    [x0, y0],
  ]
  const diameter = (part: number, x: number, y: number, d: number) => ({
    part,
    field: 'diameter',
    text: `${d} mm`,
    expression: '',
    input: null,
    start: [x - d / 2, y],
    end: [x + d / 2, y],
  })
  // A duct with a tube of two diameters in it, and a plate too thin for its name; one unit is one pixel.
  const sketch = {
    bounds: [0, 0, 600, 220],
    axisymmetric: false,
    parts: [
      { name: 'whey', origin: 'whey', material: 'Water', fluid: true, rings: [boxRing(0, 10, 600, 220), ring(300, 110, 20)] },
      { name: 'tube', origin: 'tube', material: 'Copper', fluid: false, rings: [ring(300, 110, 20), ring(300, 110, 16)] },
      { name: 'plate', origin: 'plate', material: 'Steel', fluid: false, rings: [boxRing(0, 0, 600, 10)] },
    ],
    outlines: [],
    boundaries: [],
    dimensions: [diameter(1, 300, 110, 40), diameter(2, 300, 110, 32)],
  } as unknown as Sketch
  const view = { sx: 1, sy: 1, ox: 60, oy: 260 }
  const size = { width: 720, height: 320 }
  const labels = labelling({
    view,
    size,
    sketch,
    flags: [],
    dimensions: placeDimensions(view, sketch, { x0: 0, y0: 0, x1: 600, y1: 220 }, 24),
    named: true,
    beside: [],
    corner: 100,
  })
  const spots = [...labels.names, ...labels.dimensions].map((one) => one.spot)

  it('has none on another', () => {
    expect(spots).toHaveLength(5)
    for (let i = 0; i < spots.length; i++) for (let j = 0; j < i; j++) expect(apart(spots[i]!, spots[j]!)).toBe(true)
  })

  it('has names in what they name, with the material where there is room', () => {
    const whey = labels.names.find((one) => one.item.name === 'whey')!
    expect(whey.item.material).toBe('Water')
    expect(inside(sketch.parts[0]!.rings, whey.spot.x - view.ox, view.oy - whey.spot.y)).toBe(true)
  })

  it('leads from what is too small to what it is called', () => {
    const tube = labels.leads.filter(({ from }) => inside(sketch.parts[1]!.rings, from[0] - view.ox, view.oy - from[1]))
    const plate = labels.leads.filter(({ from }) => inside(sketch.parts[2]!.rings, from[0] - view.ox, view.oy - from[1]))
    expect([tube.length, plate.length]).toEqual([1, 1])
  })
})

import { describe, expect, it } from 'vitest'

import type { BoundaryView, CaseDocument, Dimension, Sketch } from '../src/api/client'
import { placeDimensions, roomBelow, widthRows } from '../src/sketch/dimensions'
import { flagsOf, inside } from '../src/sketch/flags'
import { addPart, anchors, boxOf, shapeFrom, snap, stepOf } from '../src/sketch/place'
import { edgesOf, placedAt } from '../src/sketch/ties'
import type { Viewport } from '../src/sketch/viewport'
import { half, minus, mm, plus, shifted } from '../src/sketch/written'

/** A thousand pixels a metre, the origin at the lower left of a drawing 600 high. */
const view: Viewport = { sx: 1000, sy: 1000, ox: 0, oy: 600 }

const measure = (part: number, field: string, start: number[], end: number[]): Dimension =>
  ({ part, field, start, end, text: '', expression: '', input: null }) as unknown as Dimension
const drawing = (dimensions: Dimension[], bounds = [0, 0, 0.4, 0.2]): Sketch =>
  ({ bounds, dimensions, parts: [], boundaries: [], outlines: [] }) as unknown as Sketch

describe('dimensions', () => {
  it('puts widths that do not overlap into one row, others below each other', () => {
    const [left, right, whole] = [
      measure(0, 'width', [0, 0], [0.1, 0]),
      measure(1, 'width', [0.2, 0], [0.4, 0]),
      measure(2, 'width', [0, 0], [0.4, 0]),
    ]
    const rows = widthRows(drawing([left, right, whole]))
    expect([rows.get(left), rows.get(right), rows.get(whole)]).toEqual([0, 0, 1])
    expect(roomBelow(drawing([left, right, whole]), 20)).toBe(64)
    expect(roomBelow(drawing([]), 20)).toBe(20)
  })

  it('gives a narrow width the room that its label takes', () => {
    const [thin, next] = [measure(0, 'width', [0.1, 0], [0.101, 0]), measure(1, 'width', [0.102, 0], [0.4, 0])]
    const rows = widthRows(drawing([thin, next]))
    expect(rows.get(thin)).not.toBe(rows.get(next))
  })

  it('measures the height of a wide part inside it, of a slender one beside it and clear of names', () => {
    const sketch = drawing([
      measure(0, 'width', [0, 0], [0.4, 0]),
      measure(0, 'height', [0, 0], [0, 0.2]),
      measure(1, 'width', [0, 0], [0.02, 0]),
      measure(1, 'height', [0, 0], [0, 0.2]),
    ])
    const placed = placeDimensions(view, sketch, { x0: 0, y0: 0, x1: 0.4, y1: 0.2 }, 24)
    const [wide, slender] = placed.filter((p) => p.upright)
    expect(wide!.x).toBeGreaterThan(200)
    expect(wide!.y).toBeCloseTo(500)
    expect(slender!.x).toBeCloseTo(29)
    expect(Math.abs(slender!.y - 500)).toBeGreaterThan(30)
  })

  it('tells which heights stand on a part: lines are white over its field, and dark beside it', () => {
    const wide = [measure(0, 'width', [0, 0], [0.4, 0]), measure(0, 'height', [0, 0], [0, 0.2])]
    const small = [measure(1, 'width', [0.3, 0.2], [0.4, 0.2]), measure(1, 'height', [0.3, 0.2], [0.3, 0.3])]
    const ring = [[0, 0], [0.4, 0], [0.4, 0.2], [0, 0.2], [0, 0]] // prettier-ignore
    const sketch = { ...drawing([...wide, ...small], [0, 0, 0.4, 0.3]), parts: [{ rings: [ring] }] } as unknown as Sketch
    const placed = placeDimensions(view, sketch, { x0: 0, y0: 0, x1: 0.4, y1: 0.3 }, 24)
    expect(placed.filter((p) => p.upright).map((p) => p.onPart)).toEqual([true, false])
  })
})

describe('flags', () => {
  const square = [
    [0, 0],
    [0.2, 0],
    [0.2, 0.1],
    [0, 0.1],
    [0, 0],
  ]
  const hole = [
    [0.08, 0.03],
    [0.12, 0.03],
    [0.12, 0.07],
    [0.08, 0.07],
    [0.08, 0.03],
  ]
  const edge = (name: string, kind: string, line: number[][], general = name): BoundaryView =>
    ({
      name,
      general,
      kind,
      flag: kind,
      interface: false,
      lines: [line],
      length: 1,
      fluid: true,
      condition: null,
    }) as unknown as BoundaryView
  const sketch = (...boundaries: BoundaryView[]) =>
    ({
      bounds: [0, 0, 0.2, 0.1],
      parts: [{ name: 'duct', rings: [square, hole] }],
      boundaries,
      dimensions: [],
      outlines: [],
    }) as unknown as Sketch

  it('stand outside, at the side their boundary lies on, with the way the stream goes', () => {
    const flags = flagsOf(
      view,
      sketch(
        edge('duct, left', 'inlet', [
          [0, 0.1],
          [0, 0],
        ]),
        edge('duct, right', 'outlet', [
          [0.2, 0],
          [0.2, 0.1],
        ]),
        edge('duct, top', 'wall', [
          [0.2, 0.1],
          [0, 0.1],
        ]),
      ),
    )
    expect(flags.map((f) => [f.side, f.arrow])).toEqual([
      ['left', '▸'],
      ['right', '▸'],
      ['top', ''],
    ])
    expect([flags[0]!.x, flags[0]!.y]).toEqual([0, 550])
    // On a long edge a third of the way along, where no name of a part stands.
    expect(flags[2]!.x).toBeCloseTo(64)
  })

  it('are one for all copies of a repeated part, and none for interfaces', () => {
    const copies = [edge('tube 1, outside', 'wall', hole, 'tube, outside'), edge('tube 2, outside', 'wall', hole, 'tube, outside')]
    expect(flagsOf(view, sketch(...copies))).toHaveLength(1)
    expect(flagsOf(view, sketch({ ...copies[0]!, interface: true }))).toHaveLength(0)
  })

  it('tell what is inside a part with a hole', () => {
    expect(inside([square, hole], 0.02, 0.05)).toBe(true)
    expect(inside([square, hole], 0.1, 0.05)).toBe(false)
    expect(inside([square, hole], 0.3, 0.05)).toBe(false)
  })
})

describe('places while drawing', () => {
  it('moves an expression and keeps what it depends on', () => {
    expect(shifted('12 mm', 0.003)).toBe('15 mm')
    expect(shifted('1 cm', -0.004)).toBe('6 mm')
    expect(shifted('gap', 0.002)).toBe('gap + 2 mm')
    expect(shifted('gap + 2 mm', -0.005)).toBe('gap - 3 mm')
    expect(shifted('gap - 3 mm', 0.003)).toBe('gap')
    expect(shifted('2*gap', 0)).toBe('2*gap')
  })

  it('steps by a round hundredth of the section', () => {
    for (const [size, step] of [
      [0.4, 0.002],
      [0.1, 0.001],
      [0.03, 0.0002],
      [0.6, 0.005],
    ])
      expect(stepOf(drawing([], [0, 0, size!, 0.01]))).toBeCloseTo(step!, 12)
    expect(stepOf(null)).toBeCloseTo(0.001, 12)
  })

  it('snaps to the nearest anchor within reach, else to the step', () => {
    const at = (...values: number[]) => values.map((value) => ({ value, text: null }))
    expect(snap(0.0101, at(0, 0.01, 0.0105), 0.0003, 0.001)).toEqual({ value: 0.01, anchor: { value: 0.01, text: null } })
    expect(snap(0.0137, at(0, 0.01), 0.0003, 0.001).value).toBeCloseTo(0.014, 12)
    expect(snap(0.0137, at(0, 0.01), 0.0003, 0)).toEqual({ value: 0.0137, anchor: null })
  })

  it('offers corners and middles of other parts as anchors', () => {
    const sketch = {
      ...drawing([]),
      outlines: [
        {
          origin: 'a',
          loops: [
            [
              [0.1, 0.2],
              [0.3, 0.2],
              [0.3, 0.4],
              [0.1, 0.4],
            ],
          ],
        },
        {
          origin: 'b',
          loops: [
            [
              [9, 9],
              [10, 9],
              [10, 10],
            ],
          ],
        },
      ],
    } as unknown as Sketch
    const found = anchors(sketch, 'b')
    for (const x of [0, 0.1, 0.2, 0.3]) expect(found.x.some((v) => Math.abs(v.value - x) < 1e-12)).toBe(true)
    expect(Math.max(...found.x.map((v) => v.value))).toBeLessThan(1)
    expect(
      boxOf([
        [1, 5],
        [-2, 3],
      ]),
    ).toEqual({ x0: -2, y0: 3, x1: 1, y1: 5 })
  })

  it('writes places so that edges that were snapped to one place are equal', () => {
    // A third of a metre, and a side that ends there: rounded each by itself they were 3e-8 m apart.
    const anchor = 1 / 3
    const left = shapeFrom('rectangle', [
      [0.0123456789, 0],
      [anchor, 0.01],
    ]).shape as unknown as Record<string, string>
    const metres = (text: string) => Number.parseFloat(text) / 1000
    expect(Math.abs(metres(left.x!) + metres(left.width!) - metres(mm(anchor)))).toBeLessThan(2e-11)
  })

  it('makes shapes of drags in any direction', () => {
    const rectangle = shapeFrom('rectangle', [
      [0.03, 0.02],
      [0.01, 0.05],
    ]).shape
    expect(rectangle).toEqual({ type: 'rectangle', divided: {}, x: '10 mm', y: '20 mm', width: '20 mm', height: '30 mm' })
    expect(
      shapeFrom('circle', [
        [0, 0],
        [0.003, 0.004],
      ]).shape,
    ).toEqual({ type: 'circle', x: '0 mm', y: '0 mm', diameter: '10 mm' })
    expect(
      shapeFrom('ring', [
        [0, 0],
        [0.01, 0],
      ]).shape,
    ).toMatchObject({ outer_diameter: '20 mm', inner_diameter: '16 mm' })
    expect(
      shapeFrom('blade', [
        [0, 0],
        [0.05, 0.05],
      ]),
    ).toMatchObject({ shape: { chord: '70.7107 mm' }, angle: '45 deg' })
    expect(
      shapeFrom('polygon', [
        [0.01, 0.01],
        [0.02, 0.01],
        [0.02, 0.03],
      ]).shape,
    ).toMatchObject({
      points: [
        ['0 mm', '0 mm'],
        ['10 mm', '0 mm'],
        ['10 mm', '20 mm'],
      ],
    })
    expect(mm(0.0123456789)).toBe('12.3456789 mm')
  })

  it('names new parts as nobody else is named', () => {
    const document = { section: { parts: [{ name: 'part 2' }] } } as unknown as CaseDocument
    const at = addPart(
      document,
      shapeFrom('circle', [
        [0, 0],
        [0.01, 0],
      ]).shape,
    )
    expect(at).toBe(1)
    expect(document.section.parts[1]!.name).toBe('part 3')
  })
})

describe('ties', () => {
  const plate = {
    name: 'plate',
    angle: '',
    mirror: '',
    shape: { type: 'rectangle', x: '0 m', y: 'cold_height', width: 'length', height: 'plate', divided: {} },
  } as unknown as CaseDocument['section']['parts'][number]
  const outline = (x0: number, y0: number, x1: number, y1: number) =>
    ({
      ...drawing([]),
      outlines: [
        {
          origin: 'plate',
          loops: [
            [
              [x0, y0],
              [x1, y0],
              [x1, y1],
              [x0, y1],
            ],
          ],
        },
      ],
    }) as unknown as Sketch

  it('adds and takes lengths as they are written', () => {
    expect(plus('0 m', 'length')).toBe('length')
    expect(plus('cold', 'plate')).toBe('cold + plate')
    expect(plus('3 mm', '1 cm')).toBe('13 mm')
    expect(minus('cold + plate', 'cold')).toBe('plate')
    expect(minus('length', '12 mm')).toBe('length - 12 mm')
    expect(minus('length', 'a + b')).toBe('length - (a + b)')
    expect(minus('a', 'a')).toBe('0 mm')
    expect([half('8 mm'), half('d'), half('a + b')]).toEqual(['4 mm', 'd/2', '(a + b)/2'])
  })

  it('offers the edges of a part as they are written', () => {
    const found = anchors(outline(0, 0.0012, 0.6, 0.0018), '', [plate])
    expect(found.y.find((a) => Math.abs(a.value - 0.0018) < 1e-12)?.text).toBe('cold_height + plate')
    expect(found.x.find((a) => Math.abs(a.value - 0.6) < 1e-12)?.text).toBe('length')
    // Turned, mirrored and repeated parts have edges elsewhere.
    expect(edgesOf({ ...plate, angle: '20 deg' })).toBeNull()
  })

  it('writes a drawn rectangle by what its corners were snapped to', () => {
    const ties = [
      { x: '0 m', y: 'cold_height + plate' },
      { x: 'length', y: null },
    ]
    const { shape } = shapeFrom('rectangle', [[0, 0.0018], [0.6, 0.003]], ties) // prettier-ignore
    expect(shape).toMatchObject({ x: '0 m', width: 'length', y: 'cold_height + plate', height: '1.2 mm' })
    // From the other corner it is the same.
    const back = shapeFrom('rectangle', [[0.6, 0.003], [0, 0.0018]], [...ties].reverse()).shape // prettier-ignore
    expect(back).toEqual(shape)
  })

  it('keeps a part that was moved onto an edge there', () => {
    const round = { ...plate, shape: { type: 'circle', x: '0 m', y: '0 m', diameter: 'd' } } as unknown as typeof plate
    expect(placedAt(plate, 'x', 2, 'length')).toBe('0 mm')
    expect(placedAt(plate, 'y', 0, 'top')).toBe('top')
    expect(placedAt(round, 'y', 0, 'top')).toBe('top + d/2')
    expect(placedAt(round, 'x', 1, 'length/2')).toBe('length/2')
  })

  it('reads them the right way on a drawing that stands', () => {
    // With up -1 the section's x runs downwards: its upper end lies lowest.
    const found = anchors(outline(0.0012, -0.6, 0.0018, 0), '', [plate], -1)
    expect(found.y.find((a) => Math.abs(a.value + 0.6) < 1e-12)?.text).toBe('length')
    expect(found.x.find((a) => Math.abs(a.value - 0.0018) < 1e-12)?.text).toBe('cold_height + plate')
  })
})

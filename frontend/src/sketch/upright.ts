import type { CaseDocument, Sketch } from '../api/client'
import type { Copy } from './copies'
import type { Polygons } from './raster'
import type { Shading } from './shading'

/**
 * An axisymmetric section drawn with its axis upright: the radius to the right, and up what is up in the room. A place (x, r) stands at
 * (r, up·x), where `up` is -1 when gravity pulls along +x.
 */
export type Up = 1 | -1

/** Which way is up along the axis, for a section whose gravity acts along it; null for all others. */
export function upOf(document: CaseDocument | null): Up | null {
  if (document?.section.extent !== 'axisymmetric') return null
  const pull = document.physics.gravity_x?.trim() ?? ''
  if (!pull || /^[-+]?0(\.0*)?(\s|$)/.test(pull)) return null
  return pull.startsWith('-') ? 1 : -1
}

const turned = (p: number[], up: Up): number[] => [p[1]!, up * p[0]!]

/** A place on the upright drawing as one of the section. */
export const back = (spot: [number, number], up: Up): [number, number] => [up * spot[1], spot[0]]

/** Pairs (x, r), one behind the other, turned. */
export function turnedPairs(pairs: Float32Array, up: Up): Float32Array {
  const result = new Float32Array(pairs.length)
  for (let i = 0; i < pairs.length; i += 2) {
    result[i] = pairs[i + 1]!
    result[i + 1] = up * pairs[i]!
  }
  return result
}

export function turnedMesh<M extends Polygons>(mesh: M, up: Up): M {
  return { ...mesh, nodes: turnedPairs(mesh.nodes, up) }
}

export function turnedShading(shading: Shading, up: Up): Shading {
  return { ...shading, slopes: turnedPairs(shading.slopes, up), middles: turnedPairs(shading.middles, up) }
}

export const turnedCopy = (copy: Copy, up: Up): Copy => ({ ...copy, fx: copy.fy, dx: copy.dy, fy: copy.fx, dy: up * copy.dx })

/** A dimension that keeps the field it edits where width and height have changed places. */
export type TurnedDimension = Sketch['dimensions'][number] & { edits?: string }

const OTHER: Record<string, string> = { width: 'height', height: 'width' }

export function turnedSketch(sketch: Sketch, up: Up): Sketch {
  const line = (points: number[][]) => points.map((p) => turned(p, up))
  const [x0, y0, x1, y1] = sketch.bounds as [number, number, number, number]
  const dimensions: TurnedDimension[] = sketch.dimensions.map((d) => {
    const [start, end] = [turned(d.start, up), turned(d.end, up)]
    const along = d.field === 'height' || end[1]! >= start[1]!
    return { ...d, edits: d.field, field: OTHER[d.field] ?? d.field, start: along ? start : end, end: along ? end : start }
  })
  return {
    ...sketch,
    bounds: [y0, Math.min(up * x0, up * x1), y1, Math.max(up * x0, up * x1)],
    parts: sketch.parts.map((part) => ({
      ...part,
      rings: part.rings.map(line),
      internal: part.internal && { ...part.internal, direction: turned(part.internal.direction, up) },
    })),
    outlines: sketch.outlines.map((outline) => ({ ...outline, loops: outline.loops.map(line) })),
    boundaries: sketch.boundaries.map((boundary) => ({ ...boundary, lines: boundary.lines.map(line) })),
    dimensions,
  }
}

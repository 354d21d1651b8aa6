import { describe, expect, it } from 'vitest'

import { colourGradient, colourTable } from '../src/design/colourMaps'
import { dark, light, type Palette } from '../src/design/tokens'
import { fit, fromX, fromY, toX, toY, zoom } from '../src/sketch/viewport'

const margin = { x0: 100, y0: 20, x1: 100, y1: 30 }

describe('the viewport', () => {
  it('keeps to scale what is not slender', () => {
    const view = fit({ x0: 0, y0: 0, x1: 2, y1: 1 }, 1000, 600, margin, false)
    expect(view.sx).toBe(view.sy)
    expect(toX(view, 0)).toBeGreaterThanOrEqual(100)
    expect(toX(view, 2)).toBeLessThanOrEqual(900)
    expect(toY(view, 1)).toBeGreaterThanOrEqual(20)
    expect(toY(view, 0)).toBeLessThanOrEqual(570)
  })

  it('stretches slender sections by a round factor, unless true scale is asked for', () => {
    const passage = { x0: 0, y0: 0, x1: 0.6, y1: 0.003 }
    const view = fit(passage, 1200, 400, margin, false)
    const factor = view.sy / view.sx
    expect(Number(factor.toPrecision(2))).toBeCloseTo(factor, 6)
    expect(factor).toBeGreaterThan(10)
    expect(fit(passage, 1200, 400, margin, true).sy).toBe(fit(passage, 1200, 400, margin, true).sx)
    // The other way round: a tall thin column.
    const column = fit({ x0: 0, y0: 0, x1: 0.001, y1: 1 }, 1200, 400, margin, false)
    expect(column.sx / column.sy).toBeGreaterThan(10)
  })

  it('goes there and back, and zooms about the cursor', () => {
    const view = fit({ x0: -1, y0: -2, x1: 3, y1: 2 }, 900, 500, margin, false)
    expect(fromX(view, toX(view, 0.7))).toBeCloseTo(0.7, 12)
    expect(fromY(view, toY(view, -1.3))).toBeCloseTo(-1.3, 12)
    const near = zoom(view, 2.5, 300, 200)
    expect(fromX(near, 300)).toBeCloseTo(fromX(view, 300), 12)
    expect(fromY(near, 200)).toBeCloseTo(fromY(view, 200), 12)
    expect(near.sx).toBeCloseTo(2.5 * view.sx, 12)
  })

  it('survives a window without room', () => {
    const view = fit({ x0: 0, y0: 0, x1: 1, y1: 1 }, 10, 10, margin, false)
    expect(Number.isFinite(view.sx) && view.sx > 0).toBe(true)
  })
})

describe('colour maps', () => {
  /** CIE lightness of a packed colour. */
  function lightness(word: number): number {
    const linear = [word & 255, (word >> 8) & 255, (word >> 16) & 255].map((b) => {
      const c = b / 255
      return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
    })
    const y = 0.2126 * linear[0]! + 0.7152 * linear[1]! + 0.0722 * linear[2]!
    return y > 0.008856 ? 116 * Math.cbrt(y) - 16 : 903.3 * y
  }

  it.each(['ember', 'brook', 'slate'])('%s rises steadily in lightness', (name) => {
    const steps = [...colourTable(name)].map(lightness)
    for (let i = 8; i < steps.length; i += 8) expect(steps[i]!).toBeGreaterThan(steps[i - 8]!)
    // Equal steps of the value are equal steps of lightness, within a factor of two.
    const changes = Array.from({ length: 8 }, (_, k) => steps[Math.min(32 * (k + 1), 255)]! - steps[32 * k]!)
    expect(Math.max(...changes) / Math.min(...changes)).toBeLessThan(2)
  })

  it('makes a gradient of its table', () => {
    expect(colourGradient('ember')).toMatch(/^linear-gradient\(to right, rgb\(.*\)\)$/)
    expect(colourTable('ember')).toBe(colourTable('ember'))
  })
})

describe('tokens', () => {
  /** Contrast ratio after WCAG 2. */
  function contrast(a: string, b: string): number {
    const luminance = (hex: string) => {
      const [r, g, bl] = [1, 3, 5].map((i) => {
        const c = parseInt(hex.slice(i, i + 2), 16) / 255
        return c <= 0.03928 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
      })
      return 0.2126 * r! + 0.7152 * g! + 0.0722 * bl!
    }
    const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p)
    return (x! + 0.05) / (y! + 0.05)
  }

  it.each([
    ['light', light],
    ['dark', dark],
  ] as [string, Palette][])('%s text meets WCAG AA on paper, sheet and raised ground', (_, palette) => {
    for (const ground of [palette.sheet, palette.raised, palette.paper]) {
      for (const text of [palette.ink, palette.muted]) expect(contrast(text, ground)).toBeGreaterThanOrEqual(4.5)
    }
    for (const verdict of [palette.heat, palette.good, palette.doubt, palette.fault])
      expect(contrast(verdict, palette.sheet)).toBeGreaterThanOrEqual(4.5)
    expect(contrast(palette.onHeat, palette.heat)).toBeGreaterThanOrEqual(4.5)
  })
})

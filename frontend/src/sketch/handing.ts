import { nextTick } from 'vue'

import { type as typeface } from '../design/tokens'
import { useUnits } from '../quantity/units'
import { useCase } from '../stores/case'
import { useLook } from '../stores/look'
import { useReading } from '../stores/reading'
import { useTheme } from '../stores/theme'
import { pictureSvg } from './picture'

const TICKS = 5

/** What lies in the drawing as a picture to hand on, with its scale, units, title and date. */
export function usePicture() {
  const theCase = useCase()
  const reading = useReading()
  const look = useLook()
  const units = useUnits()
  const theme = useTheme()

  /** The picture as SVG; null where nothing is drawn. */
  function svg(title = theCase.document?.title ?? ''): string | null {
    const { easel } = look
    const field = reading.field
    if (!easel || !field) return null
    const p = theme.palette()
    const [low, high] = look.range
    const time = reading.frames.find((f) => f.number === reading.frameNumber)?.time
    return pictureSvg(easel.host, easel.canvas, {
      title,
      when: time === null || time === undefined ? '' : units.withUnit(time, 'time', 4),
      field: [field.name, units.label(field.kind)].filter(Boolean).join(', '),
      map: look.map,
      bands: look.look === 'bands' ? look.levels : 0,
      ticks: Array.from({ length: TICKS }, (_, i) => units.format(low + ((high - low) * i) / (TICKS - 1), field.kind, 4)),
      ground: theme.onPaper ? '#fff' : p.sheet,
      ink: p.ink,
      muted: p.muted,
      font: typeface.text,
      date: new Date().toISOString().slice(0, 10),
    })
  }

  /** Until what was asked for last is drawn. */
  async function settled(): Promise<void> {
    await nextTick()
    for (let i = 0; look.pending && i < 200; i++) await new Promise((resolve) => setTimeout(resolve, 25))
    look.easel?.paint()
    await new Promise((resolve) => requestAnimationFrame(resolve))
  }

  return { svg, settled }
}

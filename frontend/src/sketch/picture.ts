import { colourAt } from '../design/colourMaps'

/** What stands around a picture that is handed on. */
export interface Legend {
  title: string
  /** The time of the frame, if there is one. */
  when: string
  field: string
  map: string
  bands: number
  /** Values under the scale, from its left end to its right one. */
  ticks: string[]
  ground: string
  ink: string
  muted: string
  font: string
  date: string
}

const ABOVE = 34
const BELOW = 58
const MARGIN = 16
const NARROWEST = 560
const STYLES = [
  'fill',
  'fill-opacity',
  'fill-rule',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-opacity',
  'stroke-linejoin',
  'opacity',
  'font-size',
  'font-weight',
  'font-family',
  'paint-order',
  'text-anchor',
]
const escaped = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;')

/** A copy of the drawing's lines with their styles written into them; what only serves the pointer is left out. */
function linesOf(svg: SVGElement): string {
  const copy = svg.cloneNode(true) as SVGElement
  const [from, to] = [svg.querySelectorAll('*'), copy.querySelectorAll('*')]
  const gone: Element[] = []
  from.forEach((element, i) => {
    const target = to[i]!
    if (element.matches('.hit, .surface, title, .preview')) gone.push(target)
    const computed = getComputedStyle(element)
    const style = STYLES.map((name) => [name, computed.getPropertyValue(name)])
      .filter(([, value]) => value && value !== 'normal')
      .map(([name, value]) => `${name}:${value!.replace(/url\("?#?[^)]*#([\w-]+)"?\)/, 'url(#$1)').replace(/"/g, "'")}`)
    target.setAttribute('style', style.join(';'))
    for (const name of [...target.getAttributeNames()]) if (name.startsWith('data-')) target.removeAttribute(name)
  })
  for (const element of gone) element.remove()
  return copy.innerHTML
}

/** The words that stand on the drawing as text of the picture, with the ground they cover. */
function wordsOf(host: HTMLElement, ground: string): string {
  const box = host.getBoundingClientRect()
  const found: string[] = []
  const walker = document.createTreeWalker(host, NodeFilter.SHOW_TEXT)
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const element = node.parentElement
    const text = node.textContent?.trim()
    if (!element || !text || element.closest('svg, .corner, .readout, .arrow-key, .no-print, [aria-hidden="true"]')) continue
    const range = document.createRange()
    range.selectNodeContents(node)
    const spot = range.getBoundingClientRect()
    if (!spot.width) continue
    const style = getComputedStyle(element)
    const [x, y] = [spot.left - box.left, spot.top - box.top]
    found.push(
      `<rect x="${x - 2}" y="${y}" width="${spot.width + 4}" height="${spot.height}" fill="${ground}" fill-opacity="0.8"/>`,
      `<text x="${x}" y="${y + spot.height * 0.76}" fill="${style.color}" font-size="${style.fontSize}" font-weight="${style.fontWeight}">${escaped(text)}</text>`,
    )
  }
  return found.join('')
}

function scaleOf(legend: Legend, width: number, top: number): string {
  const [left, length] = [150, Math.max(width - 260, 120)]
  const steps = legend.bands || 64
  const bars = Array.from({ length: steps }, (_, i) => {
    const share = steps > 1 ? i / (steps - 1) : 0.5
    return `<rect x="${left + (length * i) / steps}" y="${top}" width="${length / steps + 0.5}" height="12" fill="${colourAt(legend.map, share)}"/>`
  })
  const last = legend.ticks.length - 1
  const ticks = legend.ticks.map((text, i) => {
    const x = left + (length * i) / last
    return `<line x1="${x}" x2="${x}" y1="${top + 12}" y2="${top + 16}" stroke="${legend.muted}"/><text x="${x}" y="${top + 28}" text-anchor="middle" fill="${legend.ink}" font-size="11">${escaped(text)}</text>`
  })
  return [
    `<text x="12" y="${top + 11}" fill="${legend.ink}" font-size="13" font-weight="600">${escaped(legend.field)}</text>`,
    ...bars,
    ...ticks,
  ].join('')
}

/** Where the drawing lies across its place, with its words: left edge and width, never narrower than its scale needs. */
function withinOf(host: HTMLElement, layer: SVGGraphicsElement | null, full: number): [number, number] {
  if (!layer) return [0, full]
  const box = layer.getBBox()
  const at = host.getBoundingClientRect().left
  const words = [...host.querySelectorAll('.flag, .part-label')].map((word) => word.getBoundingClientRect())
  const low = Math.max(0, Math.min(box.x, ...words.map((w) => w.left - at)) - MARGIN)
  const high = Math.min(full, Math.max(box.x + box.width, ...words.map((w) => w.right - at)) + MARGIN)
  const width = Math.min(full, Math.max(high - low, NARROWEST))
  return [Math.max(0, Math.min(low - (width - (high - low)) / 2, full - width)), width]
}

/** The drawing as it stands as SVG: the field as a picture in it, lines and words as they are, with scale, title and date. */
export function pictureSvg(host: HTMLElement, canvas: HTMLCanvasElement, legend: Legend): string {
  const { width: full, height } = host.getBoundingClientRect()
  const layer = host.querySelector(':scope > svg.layer') as SVGGraphicsElement | null
  const [left, width] = withinOf(host, layer, full)
  const whole = height + ABOVE + BELOW
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="${width}" height="${whole}" viewBox="0 0 ${width} ${whole}" font-family="${escaped(legend.font.replace(/"/g, "'"))}">`,
    `<title>${escaped(legend.title)}</title>`,
    `<rect width="${width}" height="${whole}" fill="${legend.ground}"/>`,
    `<text x="12" y="22" fill="${legend.ink}" font-size="15" font-weight="600">${escaped(legend.title)}</text>`,
    `<text x="${width - 12}" y="22" text-anchor="end" fill="${legend.muted}" font-size="12">${escaped([legend.when, legend.date].filter(Boolean).join('   '))}</text>`,
    `<svg x="0" y="${ABOVE}" width="${width}" height="${height}" viewBox="${left} 0 ${width} ${height}">`,
    `<image width="${full}" height="${height}" href="${canvas.toDataURL('image/png')}"/>`,
    layer ? linesOf(layer) : '',
    wordsOf(host, legend.ground),
    '</svg>',
    scaleOf(legend, width, height + ABOVE + 14),
    '</svg>',
  ].join('')
}

/** Pictures handed on: SVG text as a PNG, and either to the clipboard. */

export function size(svg: string): { width: number; height: number } {
  const found = /<svg[^>]*\swidth="([\d.]+)"[^>]*\sheight="([\d.]+)"/.exec(svg)
  return { width: Number(found?.[1] ?? 640), height: Number(found?.[2] ?? 400) }
}

/** A picture painted at a multiple of its size, on a ground of its own. */
export async function pngOf(svg: string, ground: string, scale = 2): Promise<Blob> {
  const { width, height } = size(svg)
  const image = new Image()
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`
  await image.decode()
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(width * scale)
  canvas.height = Math.round(height * scale)
  const context = canvas.getContext('2d')!
  context.fillStyle = ground
  context.fillRect(0, 0, canvas.width, canvas.height)
  context.drawImage(image, 0, 0, canvas.width, canvas.height)
  return blobOf(canvas)
}

export function blobOf(canvas: HTMLCanvasElement): Promise<Blob> {
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('the picture could not be made'))), 'image/png'),
  )
}

/** A picture to the clipboard; false where the browser does not let it there. */
export async function copyPicture(png: Blob): Promise<boolean> {
  try {
    await navigator.clipboard.write([new ClipboardItem({ 'image/png': png })])
    return true
  } catch {
    return false
  }
}

/** Text for a file of comma-separated values. */
export function csvOf(rows: (string | number | null)[][]): string {
  const cell = (value: string | number | null) => {
    const text = value === null ? '' : String(value)
    return /[",\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text
  }
  return rows.map((row) => row.map(cell).join(',')).join('\r\n')
}

import { zipSync } from 'fflate'
import { applyPalette, GIFEncoder, quantize } from 'gifenc'
import { BufferTarget, CanvasSource, Output, QUALITY_HIGH, WebMOutputFormat, getFirstEncodableVideoCodec } from 'mediabunny'

import { blobOf } from '../pad/pictures'

export type FilmKind = 'gif' | 'webm' | 'pngs'

/** Takes pictures one after the other, and makes a film of them. */
export interface Film {
  add: (picture: HTMLCanvasElement) => Promise<void>
  finish: () => Promise<Blob>
}

function gif(perSecond: number): Film {
  const encoder = GIFEncoder()
  return {
    add: (picture) => {
      const { width, height } = picture
      const { data } = picture.getContext('2d')!.getImageData(0, 0, width, height)
      const palette = quantize(data, 256)
      encoder.writeFrame(applyPalette(data, palette), width, height, { palette, delay: Math.round(1000 / perSecond) })
      return Promise.resolve()
    },
    finish: () => {
      encoder.finish()
      return Promise.resolve(new Blob([encoder.bytes() as Uint8Array<ArrayBuffer>], { type: 'image/gif' }))
    },
  }
}

/** Whether this browser can encode an open kind of video. */
export async function canFilm(): Promise<boolean> {
  if (typeof VideoEncoder === 'undefined') return false
  return (await getFirstEncodableVideoCodec(['vp9', 'vp8', 'av1'])) !== null
}

async function webm(perSecond: number, width: number, height: number): Promise<Film> {
  const codec = await getFirstEncodableVideoCodec(['vp9', 'vp8', 'av1'], { width, height })
  if (!codec) throw new Error('this browser cannot encode video; make a GIF or single pictures')
  const target = new BufferTarget()
  const output = new Output({ format: new WebMOutputFormat(), target })
  const canvas = document.createElement('canvas')
  // Encoders want even sizes.
  canvas.width = width - (width % 2)
  canvas.height = height - (height % 2)
  const source = new CanvasSource(canvas, { codec, bitrate: QUALITY_HIGH })
  output.addVideoTrack(source, { frameRate: perSecond })
  await output.start()
  let count = 0
  return {
    add: async (picture) => {
      canvas.getContext('2d')!.drawImage(picture, 0, 0)
      await source.add(count / perSecond, 1 / perSecond)
      count++
    },
    finish: async () => {
      await output.finalize()
      return new Blob([target.buffer!], { type: 'video/webm' })
    },
  }
}

function pngs(): Film {
  const files: Record<string, Uint8Array> = {}
  return {
    add: async (picture) => {
      const name = `picture-${String(Object.keys(files).length).padStart(4, '0')}.png`
      files[name] = new Uint8Array(await (await blobOf(picture)).arrayBuffer())
    },
    finish: () => Promise.resolve(new Blob([zipSync(files, { level: 0 }) as Uint8Array<ArrayBuffer>], { type: 'application/zip' })),
  }
}

export async function filmOf(kind: FilmKind, perSecond: number, width: number, height: number): Promise<Film> {
  return kind === 'gif' ? gif(perSecond) : kind === 'pngs' ? pngs() : webm(perSecond, width, height)
}

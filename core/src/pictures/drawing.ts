import { escapeMarkup } from '../text/escape-markup.ts'

/** The six numbers of an affine map, as SVG's `matrix()` has them. */
export type Matrix = readonly [number, number, number, number, number, number]
/** A line, a filled form or words in a drawing. Colours are "#rrggbb", null = none; `opacity` is 0 to 1. */
export type Shape =
  | {
      /** As in the attribute `d` of SVG's `path`. */
      path: string
      fill: string | null
      stroke: string | null
      width: number
      dash: readonly number[]
      opacity: number
      at: Matrix
    }
  | {
      text: string
      x: number
      y: number
      size: number
      anchor: 'start' | 'middle' | 'end'
      bold: boolean
      fill: string
      opacity: number
      at: Matrix
    }
/** A picture as it was shown, made of plain shapes: what somebody sends as one cannot hold a script, an address or a file. */
export type Drawing = { width: number; height: number; shapes: readonly Shape[] }

/** The drawing as an SVG document that stands alone. `title` is read aloud in its place. */
export function drawingSvg({ width, height, shapes }: Drawing, title: string): string {
  const head = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" font-family="sans-serif" role="img">`
  return `${head}<title>${escapeMarkup(title)}</title>${shapes.map(shapeSvg).join('')}</svg>`
}

function shapeSvg(shape: Shape): string {
  const shared = `${isSame(shape.at) ? '' : ` transform="matrix(${shape.at.join(' ')})"`}${shape.opacity < 1 ? ` opacity="${shape.opacity}"` : ''}`
  if ('text' in shape) {
    const { text, x, y, size, anchor, bold, fill } = shape
    const weight = bold ? ' font-weight="bold"' : ''
    return `<text x="${x}" y="${y}" font-size="${size}" text-anchor="${anchor}" fill="${fill}"${weight}${shared}>${escapeMarkup(text)}</text>`
  }
  const { path, fill, stroke, width, dash } = shape
  const line = stroke
    ? ` stroke="${stroke}" stroke-width="${width}" stroke-linejoin="round"${dash.length ? ` stroke-dasharray="${dash.join(' ')}"` : ' stroke-linecap="round"'}`
    : ''
  return `<path d="${escapeMarkup(path)}" fill="${fill ?? 'none'}"${line}${shared}/>`
}

const isSame = (at: Matrix): boolean => at.join() === '1,0,0,1,0,0'

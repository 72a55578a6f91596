import { escapeMarkup } from '../text/escape-markup.ts'

/** A line of a picture: a value for each label, null = a gap. `dash` as in SVG, empty for a plain line. */
export type PictureLine = {
  name: string
  colour: string
  dash?: string
  values: ReadonlyArray<number | null>
}
export type LinePicture = {
  title: string
  /** Along the bottom, one for each value. */
  labels: readonly string[]
  lines: readonly PictureLine[]
  /** Values that have a line and a number at the side, lowest first; the first and last are the ends of the picture. */
  ticks: readonly number[]
  /** Positions: the first on top, each factor as high as another. Otherwise values rise evenly. */
  ofPositions?: boolean
  width?: number
  height?: number
}

const margin = { top: 34, right: 46, bottom: 46, left: 14 }
const ink = '#5b6b6a'
const rule = '#dbe4e2'
const mostLabels = 8

const at = (value: number): string => String(Math.round(value * 10) / 10)

/**
 * Lines over time as an SVG document that stands alone: for files, prints and reports, where nothing can be pointed at. Values outside the
 * ticks are drawn at the nearest end. O(values).
 */
export function linePicture({
  title,
  labels,
  lines,
  ticks,
  ofPositions = false,
  width = 900,
  height = 320,
}: LinePicture): string {
  const [low, high] = [ticks[0]!, ticks.at(-1)!]
  const inner = { width: width - margin.left - margin.right, height: height - margin.top - margin.bottom }
  const x = (i: number): number => margin.left + (labels.length < 2 ? 0 : (i / (labels.length - 1)) * inner.width)
  const y = (value: number): number => {
    const within = Math.min(high, Math.max(low, value))
    const share = ofPositions ? Math.log(within / low) / Math.log(high / low) : 1 - (within - low) / (high - low)
    return margin.top + share * inner.height
  }
  const path = (values: PictureLine['values']): string => {
    let drawn = ''
    let begun = false
    values.forEach((value, i) => {
      if (value === null) begun = false
      else {
        // A value alone between gaps is a dot, which a line of no length with round ends is.
        drawn += begun ? `L${at(x(i))} ${at(y(value))}` : `M${at(x(i))} ${at(y(value))}h0`
        begun = true
      }
    })
    return drawn
  }
  const every = Math.max(1, Math.ceil(labels.length / mostLabels))
  const text = (left: number, top: number, words: string, more = ''): string =>
    `<text x="${at(left)}" y="${at(top)}" font-size="12" fill="${ink}"${more}>${escapeMarkup(words)}</text>`
  const legend = lines.map((line, i) => {
    const left = margin.left + (i * inner.width) / lines.length
    const top = height - 10
    return `<path d="M${at(left)} ${top - 4}h22" stroke="${line.colour}" stroke-width="2" stroke-dasharray="${line.dash ?? ''}"/>${text(left + 28, top, line.name)}`
  })
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="sans-serif" role="img">`,
    `<title>${escapeMarkup(title)}</title><rect width="${width}" height="${height}" fill="#ffffff"/>`,
    `<text x="${margin.left}" y="20" font-size="14" font-weight="600" fill="#1b2b2a">${escapeMarkup(title)}</text>`,
    ...ticks.map(
      tick =>
        `<path d="M${margin.left} ${at(y(tick))}h${inner.width}" stroke="${rule}"/>${text(width - margin.right + 8, y(tick) + 4, String(tick))}`,
    ),
    ...labels.flatMap((label, i) =>
      i % every === 0 ? [text(x(i), height - margin.bottom + 18, label, i ? ' text-anchor="middle"' : '')] : [],
    ),
    ...lines.map(
      line =>
        `<path d="${path(line.values)}" fill="none" stroke="${line.colour}" stroke-width="2" stroke-linecap="round" stroke-linejoin="round" stroke-dasharray="${line.dash ?? ''}"/>`,
    ),
    ...legend,
    '</svg>',
  ].join('\n')
}

/** About four round values from 0 to no less than the highest: 0, 5, 10, 15 for 13. */
export function roundTicks(highest: number): number[] {
  if (highest <= 0) return [0, 1]
  const rough = highest / 3
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 2.5, 5, 10].map(each => each * power).find(each => each >= rough * 0.999_999)!
  const count = Math.max(1, Math.ceil(highest / step - 1e-9))
  return Array.from({ length: count + 1 }, (_, i) => Number((i * step).toPrecision(12)))
}

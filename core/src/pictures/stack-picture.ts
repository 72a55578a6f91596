import { escapeMarkup } from '../text/escape-markup.ts'

/** Columns of parts that add up, one for each label. */
export type StackPicture = {
  title: string
  labels: readonly string[]
  parts: ReadonlyArray<{ name: string; colour: string; values: readonly number[] }>
  width?: number
  height?: number
}

const margin = { top: 34, right: 14, bottom: 46, left: 14 }
const mostLabels = 8
const at = (value: number): string => String(Math.round(value * 10) / 10)

/** Stacked columns as an SVG document that stands alone, the first part at the bottom. O(values). */
export function stackPicture({ title, labels, parts, width = 900, height = 280 }: StackPicture): string {
  const inner = { width: width - margin.left - margin.right, height: height - margin.top - margin.bottom }
  const sums = labels.map((_, i) => parts.reduce((sum, part) => sum + (part.values[i] ?? 0), 0))
  const most = Math.max(1, ...sums)
  const step = inner.width / Math.max(1, labels.length)
  const every = Math.max(1, Math.ceil(labels.length / mostLabels))
  const text = (left: number, top: number, words: string, more = ''): string =>
    `<text x="${at(left)}" y="${at(top)}" font-size="12" fill="#5b6b6a"${more}>${escapeMarkup(words)}</text>`
  const columns = labels.flatMap((label, i) => {
    let top = margin.top + inner.height
    const bars = parts.map(({ colour, values }) => {
      const size = ((values[i] ?? 0) / most) * inner.height
      top -= size
      return `<rect x="${at(margin.left + i * step + step * 0.1)}" y="${at(top)}" width="${at(step * 0.8)}" height="${at(size)}" fill="${colour}"/>`
    })
    const word =
      i % every
        ? []
        : [text(margin.left + (i + 0.5) * step, height - margin.bottom + 18, label, ' text-anchor="middle"')]
    return [...bars, ...word]
  })
  const legend = parts.flatMap(({ name, colour }, i) => {
    const left = margin.left + (i * inner.width) / parts.length
    return [
      `<rect x="${at(left)}" y="${height - 19}" width="11" height="11" fill="${colour}"/>`,
      text(left + 18, height - 10, name),
    ]
  })
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="sans-serif" role="img">`,
    `<title>${escapeMarkup(title)}</title><rect width="${width}" height="${height}" fill="#ffffff"/>`,
    `<text x="${margin.left}" y="20" font-size="14" font-weight="600" fill="#1b2b2a">${escapeMarkup(title)}</text>`,
    ...columns,
    ...legend,
    '</svg>',
  ].join('\n')
}

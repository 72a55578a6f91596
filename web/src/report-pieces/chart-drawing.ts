import type { Drawing, Shape } from '@dew-trail/core/pictures/drawing'
import type { Chart, Scale } from 'chart.js'
import { fileColours } from '../pictures/SavePicture.tsx'
import { colourOf, tenth } from './read-drawing.ts'

const [ink, rule, size, legendHeight] = ['#5b6b6a', '#dbe4e2', 11, 22]
const at = [1, 0, 0, 1, 0, legendHeight] as const

const line = (path: string, stroke: string, width = 1, dash: readonly number[] = []): Shape => ({
  path,
  fill: null,
  stroke,
  width,
  dash,
  opacity: 1,
  at,
})
const words = (text: string, x: number, y: number, anchor: 'start' | 'middle' | 'end'): Shape => ({
  text: text.slice(0, 300),
  x: tenth(x),
  y: tenth(y),
  size,
  anchor,
  bold: false,
  fill: ink,
  opacity: 1,
  at,
})

/** What a chart shows, as lines and forms at the places that it has on the screen, with its names above. */
export function chartDrawing(chart: Chart): Drawing {
  const { left, right, top, bottom } = chart.chartArea
  const shapes: Shape[] = []
  for (const scale of Object.values(chart.scales)) {
    if (scale.options.display === false) continue
    shapes.push(...scaleShapes(scale, { left, right, top, bottom }))
  }
  let legendAt = left
  chart.data.datasets.forEach((dataset, i) => {
    if (!chart.isDatasetVisible(i)) return
    const meta = chart.getDatasetMeta(i)
    const colour = datasetColour(dataset.borderColor ?? dataset.backgroundColor, i)
    const isBar = meta.type === 'bar'
    shapes.push(
      ...(isBar ? barShapes(meta.data, colour) : lineShapes(meta.data, dataset.data, colour, dashOf(dataset))),
    )
    const name = dataset.label ?? ''
    if (!name) return
    shapes.push({
      path: `M${tenth(legendAt)} -10h14`,
      fill: null,
      stroke: colour,
      width: isBar ? 8 : 2,
      dash: dashOf(dataset),
      opacity: 1,
      at,
    })
    shapes.push(words(name, legendAt + 19, -6, 'start'))
    legendAt += 34 + name.length * 6
  })
  return { width: tenth(chart.width), height: tenth(chart.height + legendHeight), shapes }
}

type Area = { left: number; right: number; top: number; bottom: number }
function scaleShapes(scale: Scale, { left, right, top, bottom }: Area): Shape[] {
  return scale.ticks.flatMap((tick, i) => {
    const pixel = scale.getPixelForTick(i)
    const label = String(Array.isArray(tick.label) ? tick.label.join(' ') : (tick.label ?? ''))
    if (!Number.isFinite(pixel)) return []
    if (scale.isHorizontal()) return label ? [words(label, pixel, bottom + 15, 'middle')] : []
    const atRight = scale.left >= right - 1
    return [
      line(`M${tenth(left)} ${tenth(pixel)}H${tenth(right)}`, rule),
      ...(label && pixel >= top - 1
        ? [words(label, atRight ? right + 5 : left - 5, pixel + 4, atRight ? 'start' : 'end')]
        : []),
    ]
  })
}

type Drawn = ReadonlyArray<{ x: number; y: number; skip?: boolean }>
function lineShapes(points: Drawn, data: readonly unknown[], colour: string, dash: readonly number[]): Shape[] {
  let path = ''
  let begun = false
  points.forEach(({ x, y, skip }, i) => {
    if (skip || data[i] === null || !Number.isFinite(x) || !Number.isFinite(y)) {
      begun = false
      return
    }
    // A value alone between gaps is a dot, which a line of no length with round ends is.
    path += begun ? `L${tenth(x)} ${tenth(y)}` : `M${tenth(x)} ${tenth(y)}h0`
    begun = true
  })
  return path ? [line(path, colour, 2, dash)] : []
}

function barShapes(bars: Drawn, colour: string): Shape[] {
  return bars.flatMap(bar => {
    const { x, y, base, width, height, horizontal } = bar as unknown as {
      x: number
      y: number
      base: number
      width: number
      height: number
      horizontal: boolean
    }
    if (![x, y, base].every(Number.isFinite)) return []
    const path = horizontal
      ? `M${tenth(base)} ${tenth(y - height / 2)}H${tenth(x)}v${tenth(height)}H${tenth(base)}Z`
      : `M${tenth(x - width / 2)} ${tenth(base)}V${tenth(y)}h${tenth(width)}V${tenth(base)}Z`
    return [{ path, fill: colour, stroke: null, width: 0, dash: [], opacity: 1, at }]
  })
}

const dashOf = (dataset: object): number[] => ((dataset as { borderDash?: number[] }).borderDash ?? []).slice(0, 10)
const datasetColour = (colour: unknown, i: number): string =>
  (typeof colour === 'string' ? colourOf(colour)?.hex : null) ?? fileColours[i % fileColours.length]!

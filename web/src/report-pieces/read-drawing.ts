import type { Drawing, Matrix, Shape } from '@dew-trail/core/pictures/drawing'

const drawn = 'path, line, rect, circle, ellipse, polyline, polygon, text'
export const tenth = (value: number): number => Math.round(value * 10) / 10
const same: Matrix = [1, 0, 0, 1, 0, 0]

/** A computed colour as "#rrggbb" and how opaque it is; null where there is none. */
export function colourOf(value: string): { hex: string; opacity: number } | null {
  const parts = /^rgba?\(([^)]+)\)$/
    .exec(value)?.[1]
    ?.split(/[\s,/]+/)
    .map(Number)
  if (!parts || parts.length < 3) return /^#[0-9a-f]{6}$/i.test(value) ? { hex: value, opacity: 1 } : null
  const [red, green, blue, opacity = 1] = parts as [number, number, number, number?]
  if (opacity === 0) return null
  const hex = [red, green, blue].map(each => Math.round(each).toString(16).padStart(2, '0')).join('')
  return { hex: `#${hex}`, opacity }
}

const lengthOf = (element: Element, name: string): number => {
  const value = (element as unknown as Record<string, SVGAnimatedLength | undefined>)[name]?.baseVal?.value
  return value ?? Number.parseFloat(element.getAttribute(name) ?? '0')
}

/** The path of a form; empty for a form that is none. */
export function pathOf(element: Element): string {
  const number = (name: string): number => tenth(lengthOf(element, name))
  const oval = (rx: number, ry: number): string => {
    const [cx, cy] = [number('cx'), number('cy')]
    return `M${tenth(cx - rx)} ${cy}a${rx} ${ry} 0 1 0 ${2 * rx} 0a${rx} ${ry} 0 1 0 ${-2 * rx} 0Z`
  }
  switch (element.tagName) {
    case 'path':
      return element.getAttribute('d') ?? ''
    case 'line':
      return `M${number('x1')} ${number('y1')}L${number('x2')} ${number('y2')}`
    case 'rect':
      return `M${number('x')} ${number('y')}h${number('width')}v${number('height')}h${-number('width')}Z`
    case 'circle':
      return oval(number('r'), number('r'))
    case 'ellipse':
      return oval(number('rx'), number('ry'))
    default: {
      const points = (element.getAttribute('points') ?? '').trim()
      return points ? `M${points}${element.tagName === 'polygon' ? 'Z' : ''}` : ''
    }
  }
}

function matrixOf(element: Element, svg: SVGSVGElement): Matrix {
  const graphic = element as SVGGraphicsElement
  const [own, whole] = [graphic.getScreenCTM?.(), svg.getScreenCTM?.()]
  if (!own || !whole) return same
  const { a, b, c, d, e, f } = whole.inverse().multiply(own)
  return [a, b, c, d, e, f].map(value => Math.round(value * 1_000) / 1_000) as unknown as Matrix
}

/** What is drawn in an SVG element, with the colours that it has on white paper. */
export function readDrawing(svg: SVGSVGElement): Drawing {
  const root = document.documentElement
  const scheme = root.getAttribute('data-scheme')
  // Nothing is painted in between: styles are read, and the scheme is back.
  if (scheme) root.setAttribute('data-scheme', 'light')
  try {
    const box = svg.viewBox?.baseVal
    const bounds = svg.getBoundingClientRect()
    const [width, height] = box?.width ? [box.width, box.height] : [bounds.width, bounds.height]
    const shapes = [...svg.querySelectorAll(drawn)].flatMap((element): Shape[] => {
      const style = getComputedStyle(element)
      const opacity = Number(style.opacity || 1)
      if (opacity === 0 || style.display === 'none' || style.visibility === 'hidden') return []
      const fill = colourOf(style.fill)
      const at = matrixOf(element, svg)
      if (element.tagName === 'text') {
        const text = (element.textContent ?? '').replace(/\s+/g, ' ').trim().slice(0, 300)
        if (!text || !fill) return []
        const anchor = style.textAnchor
        return [
          {
            text,
            x: tenth(lengthOfText(element, 'x')),
            y: tenth(lengthOfText(element, 'y')),
            size: tenth(Number.parseFloat(style.fontSize) || 11),
            anchor: anchor === 'middle' || anchor === 'end' ? anchor : 'start',
            bold: Number(style.fontWeight) >= 600,
            fill: fill.hex,
            opacity: opacity * fill.opacity,
            at,
          },
        ]
      }
      const stroke = colourOf(style.stroke)
      const path = pathOf(element).replace(/[^MLHVCSQTAZ\d\s.,e+-]/gi, ' ')
      if (!path || (!fill && !stroke)) return []
      return [
        {
          path,
          fill: fill?.hex ?? null,
          stroke: stroke?.hex ?? null,
          width: Number.parseFloat(style.strokeWidth) || 1,
          dash: numbersIn(style.strokeDasharray),
          opacity: opacity * (fill ?? stroke!).opacity,
          at,
        },
      ]
    })
    return withNames({ width: tenth(width), height: tenth(height), shapes }, namedLines(svg))
  } finally {
    if (scheme) root.setAttribute('data-scheme', scheme)
  }
}

/** A text's place: the first of the list that its attribute may be. */
const lengthOfText = (element: Element, name: 'x' | 'y'): number => {
  const first = Number.parseFloat(element.getAttribute(name) ?? '')
  const child = element.querySelector(`tspan[${name}]`)
  return Number.isFinite(first) ? first : Number.parseFloat(child?.getAttribute(name) ?? '0') || 0
}

type Named = { name: string; stroke: string; dash: readonly number[] }
/** Lines that say by a title what they are, as one points at them. */
function namedLines(svg: SVGSVGElement): Named[] {
  return [...svg.querySelectorAll('path > title')].flatMap(title => {
    const style = getComputedStyle(title.parentElement!)
    const stroke = colourOf(style.stroke)
    return stroke ? [{ name: title.textContent ?? '', stroke: stroke.hex, dash: numbersIn(style.strokeDasharray) }] : []
  })
}
const numbersIn = (text: string | undefined): number[] =>
  text?.split(/[\s,]+/).flatMap(each => Number.parseFloat(each) || []) ?? []

/** The drawing with a line of names above it, since on paper nothing can be pointed at. */
function withNames({ width, height, shapes }: Drawing, names: readonly Named[]): Drawing {
  if (names.length < 2) return { width, height, shapes }
  const room = 20
  let x = 0
  const legend = names.flatMap(({ name, stroke, dash }): Shape[] => {
    const from = x
    x += 34 + name.length * 6
    return [
      { path: `M${from} 8h16`, fill: null, stroke, width: 2, dash, opacity: 1, at: same },
      {
        text: name.slice(0, 300),
        x: from + 20,
        y: 12,
        size: 11,
        anchor: 'start',
        bold: false,
        fill: '#5b6b6a',
        opacity: 1,
        at: same,
      },
    ]
  })
  const moved = shapes.map(shape => {
    const [a, b, c, d, e, f] = shape.at
    return { ...shape, at: [a, b, c, d, e, f + room] as const }
  })
  return { width, height: height + room, shapes: [...legend, ...moved] }
}

/** A document of SVG as a drawing: it is put into the page for as long as it is read. */
export function drawingOf(svg: string): Drawing {
  const box = document.createElement('div')
  box.style.cssText = 'position:fixed;left:-10000px;top:0'
  box.append(new DOMParser().parseFromString(svg, 'image/svg+xml').documentElement)
  document.body.append(box)
  try {
    return readDrawing(box.firstElementChild as SVGSVGElement)
  } finally {
    box.remove()
  }
}

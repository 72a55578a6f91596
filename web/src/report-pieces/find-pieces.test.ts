// @vitest-environment jsdom
import type { Chart } from 'chart.js'
import { beforeEach, expect, test, vi } from 'vitest'
import { chartDrawing } from './chart-drawing.ts'
import { findPieces } from './find-pieces.ts'
import { pathOf, readDrawing } from './read-drawing.ts'

const charts = vi.hoisted(() => new Map<Element, unknown>())
vi.mock('chart.js', () => ({ Chart: { getChart: (element: Element) => charts.get(element) } }))

const screen = (html: string): HTMLElement => {
  document.body.innerHTML = `<main><h1>Track</h1>${html}</main>`
  for (const element of document.querySelectorAll('svg, canvas'))
    element.getBoundingClientRect = () => ({ width: Number(element.getAttribute('width')), height: 60 }) as DOMRect
  return document.querySelector('main')!
}
beforeEach(() => charts.clear())

test('tables and pictures of a screen are found in their order and called by what stands above them', async () => {
  const main = screen(`
    <section><h2>Sites</h2><table><thead><tr><th>Site</th><th>Visits</th><th></th></tr></thead>
      <tbody><tr><td>a.example <small>own</small></td><td><span role="img" aria-label="up 4">▲</span></td><td><svg></svg></td></tr></tbody></table></section>
    <section><h2>Range</h2><div><svg role="img" aria-label="From 3 to 9" width="300" viewBox="0 0 300 60"><rect x="1" y="2" width="3" height="4" style="fill: #112233"/></svg></div></section>
    <svg role="img" aria-label="a spark" width="40"></svg>
    <table></table>`)
  const pieces = findPieces(main, '2026-11-30')
  expect(pieces.map(({ name, about }) => [name, about])).toEqual([
    ['Sites', 'a table of 1 row as it is now'],
    ['Range', 'the picture as it is now'],
  ])
  expect(await pieces[0]!.section('All sites')).toEqual({
    kind: 'kept',
    title: 'All sites',
    kept: {
      on: '2026-11-30',
      sentence: '',
      table: { head: ['Site', 'Visits'], rows: [['a.example own', 'up 4']], of: 1 },
    },
  })
  expect(await pieces[1]!.section('Range')).toMatchObject({
    kept: { sentence: 'From 3 to 9', drawing: { shapes: [{ path: 'M1 2h3v4h-3Z', fill: '#112233' }] } },
  })
})

test('two of one name are told apart', () => {
  const main = screen('<h2>Sums</h2><table><tr><td>1</td></tr></table><table><tr><td>2</td></tr></table>')
  expect(findPieces(main, '2026-11-30').map(each => each.name)).toEqual(['Sums', 'Sums (2)'])
})

test('forms of SVG become paths', () => {
  screen(
    '<svg width="10"><line x1="1" y1="2" x2="3" y2="4"/><circle cx="5" cy="6" r="2"/><polygon points="0,0 4,0 4,4"/></svg>',
  )
  expect([...document.querySelectorAll('line, circle, polygon')].map(pathOf)).toEqual([
    'M1 2L3 4',
    'M3 6a2 2 0 1 0 4 0a2 2 0 1 0 -4 0Z',
    'M0,0 4,0 4,4Z',
  ])
})

test('words of a picture are kept with their place, and what is hidden is not', () => {
  screen(
    '<svg width="90" viewBox="0 0 90 40"><text x="4" y="9" style="fill: rgb(1, 2, 3); text-anchor: end">Five <tspan>pages</tspan></text><path d="M0 0L1 1" style="display: none"/></svg>',
  )
  expect(readDrawing(document.querySelector('svg')!)).toMatchObject({
    width: 90,
    height: 40,
    shapes: [{ text: 'Five pages', x: 4, y: 9, anchor: 'end', fill: '#010203' }],
  })
})

test('lines that say what they are have their names above them', () => {
  const path = (name: string, colour: string) =>
    `<path d="M0 0L9 9" style="fill: none; stroke: ${colour}"><title>${name}</title></path>`
  screen(`<svg width="90" viewBox="0 0 90 40">${path('a.example', '#010203')}${path('b.example', '#040506')}</svg>`)
  const { height, shapes } = readDrawing(document.querySelector('svg')!)
  expect(height).toBe(60)
  expect(shapes.map(shape => ('text' in shape ? shape.text : [shape.path, shape.stroke, shape.at[5]]))).toEqual([
    ['M0 8h16', '#010203', 0],
    'a.example',
    ['M88 8h16', '#040506', 0],
    'b.example',
    ['M0 0L9 9', '#010203', 20],
    ['M0 0L9 9', '#040506', 20],
  ])
})

test('a chart becomes lines, bars, numbers at its sides and names, with its gaps', async () => {
  const scale = (isHorizontal: boolean, labels: string[], left = 0) => ({
    options: {},
    left,
    ticks: labels.map(label => ({ label })),
    isHorizontal: () => isHorizontal,
    getPixelForTick: (i: number) => 10 + i * 40,
  })
  const point = (x: number, y: number) => ({ x, y })
  const data = [
    { label: 'Own', borderColor: '#b4540a', borderDash: [4, 3], data: [1, null, 3] },
    { label: 'Sites', backgroundColor: 'rgba(1, 2, 3, 0.5)', data: [2] },
  ]
  const metas = [
    { type: 'line', data: [point(10, 50), point(50, 40), point(90, 30)] },
    { type: 'bar', data: [{ x: 20, y: 30, base: 60, width: 10, height: 30, horizontal: false }] },
  ]
  const chart = {
    width: 120,
    height: 80,
    chartArea: { left: 10, right: 100, top: 0, bottom: 60 },
    scales: { x: scale(true, ['May', 'June']), y: scale(false, ['5'], 100) },
    data: { datasets: data },
    isDatasetVisible: () => true,
    getDatasetMeta: (i: number) => metas[i],
  } as unknown as Chart
  const { height, shapes } = chartDrawing(chart)
  expect(height).toBe(102)
  expect(shapes.map(shape => ('text' in shape ? shape.text : shape.path))).toEqual([
    'May',
    'June',
    'M10 10H100',
    '5',
    'M10 50h0M90 30h0',
    'M10 -10h14',
    'Own',
    'M15 60V30h10V60Z',
    expect.stringContaining('-10h14'),
    'Sites',
  ])
  expect(shapes[4]).toMatchObject({ stroke: '#b4540a', dash: [4, 3] })
  expect(shapes[7]).toMatchObject({ fill: '#010203' })
  const main = screen('<h2>Growth</h2><canvas width="300" aria-label="Up"></canvas>')
  charts.set(main.querySelector('canvas')!, chart)
  const [piece] = findPieces(main, '2026-11-30')
  expect(await piece!.section('Growth')).toMatchObject({ kept: { sentence: 'Up', drawing: { width: 120 } } })
})

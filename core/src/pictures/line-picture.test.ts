import { describe, expect, test } from 'vitest'
import { linePicture, roundTicks } from './line-picture.ts'

const picture = {
  title: 'Visits <b> & "more"',
  labels: ['Jan', 'Feb', 'Mar', 'Apr', 'May'],
  lines: [{ name: 'you', colour: '#c60', values: [0, 10, null, 5, 20] }],
  ticks: [0, 10],
  width: 160,
  height: 180,
}
const paths = (svg: string): string[] => [...svg.matchAll(/<path d="([^"]*)" fill="none"/g)].map(match => match[1]!)

describe('a picture of lines', () => {
  test('draws values between its ticks, breaks at gaps, and keeps what lies beyond at the end', () => {
    // 160 − 14 − 46 = 100 wide, 180 − 34 − 46 = 100 high.
    expect(paths(linePicture(picture))).toEqual(['M14 134h0L39 34M89 84h0L114 34'])
  })
  test('positions stand with the first on top, each factor as high as another', () => {
    const lines = [{ name: 'you', colour: '#c60', values: [1, 10, 100] }]
    const svg = linePicture({ ...picture, labels: ['a', 'b', 'c'], lines, ticks: [1, 10, 100], ofPositions: true })
    expect(paths(svg)).toEqual(['M14 34h0L64 84L114 134'])
  })
  test('words are text, never markup; labels are few', () => {
    const labels = Array.from({ length: 100 }, (_, i) => `day ${i}`)
    const svg = linePicture({ ...picture, labels, lines: [{ ...picture.lines[0]!, name: '<script>' }] })
    expect(svg).toContain('<title>Visits &lt;b&gt; &amp; &quot;more&quot;</title>')
    expect(svg).not.toContain('<script>')
    expect(svg.match(/>day \d+</g)).toHaveLength(8)
  })
  test('one label and no line are drawn too', () => {
    expect(paths(linePicture({ ...picture, labels: ['Jan'], lines: [] }))).toEqual([])
    expect(paths(linePicture({ ...picture, labels: ['Jan'], lines: [{ ...picture.lines[0]!, values: [5] }] }))).toEqual(
      ['M14 84h0'],
    )
  })
})

test.each([
  [13, [0, 5, 10, 15]],
  [0.4, [0, 0.2, 0.4]],
  [0, [0, 1]],
  [97, [0, 50, 100]],
  [12_345, [0, 5_000, 10_000, 15_000]],
])('round ticks up to %d', (highest, ticks) => expect(roundTicks(highest)).toEqual(ticks))

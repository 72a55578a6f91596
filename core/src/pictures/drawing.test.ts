import { expect, test } from 'vitest'
import { type Drawing, drawingSvg } from './drawing.ts'

const drawing: Drawing = {
  width: 100,
  height: 40,
  shapes: [
    { path: 'M0 0L10 5', fill: null, stroke: '#123456', width: 2, dash: [4, 2], opacity: 0.5, at: [1, 0, 0, 1, 0, 0] },
    {
      text: '5 < 6 & "7"',
      x: 3,
      y: 9,
      size: 11,
      anchor: 'end',
      bold: true,
      fill: '#000000',
      opacity: 1,
      at: [1, 0, 0, 1, 20, 5],
    },
  ],
}

test('a drawing is an SVG document of its shapes, with words as words', () => {
  expect(drawingSvg(drawing, 'A <b>line</b>')).toBe(
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 40" width="100" height="40" font-family="sans-serif" role="img">' +
      '<title>A &lt;b&gt;line&lt;/b&gt;</title>' +
      '<path d="M0 0L10 5" fill="none" stroke="#123456" stroke-width="2" stroke-linejoin="round" stroke-dasharray="4 2" opacity="0.5"/>' +
      '<text x="3" y="9" font-size="11" text-anchor="end" fill="#000000" font-weight="bold" transform="matrix(1 0 0 1 20 5)">5 &lt; 6 &amp; &quot;7&quot;</text></svg>',
  )
})

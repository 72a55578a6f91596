import { parse } from 'parse5'
import { describe, expect, test } from 'vitest'
import { markdownBlocks } from './markdown-blocks.ts'
import { numberColumns, type ReportBlock, type ReportDocument } from './report-document.ts'
import { reportHtml } from './report-html.ts'
import { longDay } from '../days/day-words.ts'
import { changeWords, oneDigit, signed } from './report-words.ts'

const report = (...blocks: ReportBlock[]): ReportDocument => ({
  title: 'A month & more',
  site: 'Kiln <Tide>',
  domain: 'kilnandtide.example',
  market: 'Lantern, Tarrow',
  asOf: '2026-11-29',
  since: '2026-11-01',
  madeOn: '2026-11-30',
  colour: '#0d5c63',
  logo: null,
  language: 'en',
  blocks,
})

describe('own words', () => {
  test('become blocks: paragraphs, marks, lists, tables, links to the web', () => {
    expect(markdownBlocks('# Top\n\nSome **strong** and *soft* words, [here](https://a.example/x?y=1&z=2).')).toEqual([
      { kind: 'heading', level: 3, text: 'Top' },
      {
        kind: 'text',
        runs: [
          { text: 'Some ' },
          { text: 'strong', strong: true },
          { text: ' and ' },
          { text: 'soft', emphasis: true },
          { text: ' words, ' },
          { text: 'here', link: 'https://a.example/x?y=1&z=2' },
          { text: '.' },
        ],
      },
    ])
    expect(markdownBlocks('1. one\n2. two')).toEqual([
      { kind: 'list', ordered: true, items: [[{ text: 'one' }], [{ text: 'two' }]] },
    ])
    expect(markdownBlocks('| a | b |\n|---|---|\n| 1 | x & y |')).toEqual([
      { kind: 'table', head: ['a', 'b'], rows: [['1', 'x & y']] },
    ])
  })
  test('HTML in them is text, and an address that runs something is no link', () => {
    expect(markdownBlocks('<script>alert(1)</script>')).toEqual([
      { kind: 'text', runs: [{ text: '<script>alert(1)</script>' }] },
    ])
    expect(markdownBlocks('[x](javascript:alert(1))')).toEqual([{ kind: 'text', runs: [{ text: 'x' }] }])
    expect(markdownBlocks('')).toEqual([])
  })
})

describe('a report as a page', () => {
  test('is HTML that stands alone, in which everything that is said is text', () => {
    const html = reportHtml(
      report(
        { kind: 'heading', level: 2, text: 'Figures <b>' },
        { kind: 'figures', figures: [{ label: 'Visibility', value: '41.2', change: 'up 3.8', good: true }] },
        { kind: 'text', runs: [{ text: 'a <i> & b', strong: true }] },
        { kind: 'table', head: ['Keyword', 'Visits'], rows: [['<img src=x>', '1,234']], of: 9 },
      ),
    )
    expect(html).not.toContain('<img src=x>')
    expect(html).toContain('Kiln &lt;Tide&gt;')
    expect(html).toContain('<h2>Figures &lt;b&gt;</h2>')
    expect(html).toContain('<strong>a &lt;i&gt; &amp; b</strong>')
    expect(html).toContain('<td class="n">1,234</td>')
    expect(html).toContain('The first 1 of 9.')
    expect(html).not.toMatch(/<script|https?:\/\/(?!www\.w3\.org)/)
  })
  test('is read without an error by a parser of the standard', () => {
    const errors: string[] = []
    const picture = { title: 'Visibility', labels: ['1', '2'], lines: [], ticks: [0, 10] }
    parse(
      reportHtml(
        report(
          { kind: 'lines', picture },
          {
            kind: 'stack',
            picture: { title: 'S', labels: ['1'], parts: [{ name: 'a', colour: '#000000', values: [2] }] },
          },
          { kind: 'list', ordered: true, items: [[{ text: 'x' }]] },
          { kind: 'break' },
        ),
      ),
      { onParseError: error => errors.push(error.code), sourceCodeLocationInfo: false },
    )
    expect(errors).toEqual([])
  })
})

test('columns of numbers are told by all of their cells', () => {
  expect(
    numberColumns(
      ['Keyword', 'Now', 'Visits', 'Empty'],
      [
        ['3 kilns', '4', '+1,200', ''],
        ['kiln', '–', '−3.5', ''],
      ],
    ),
  ).toEqual([false, true, true, false])
})

test('days and changes in words', () => {
  expect(longDay('2026-11-03')).toBe('3 November 2026')
  expect([changeWords(3.84), changeWords(-2), changeWords(0.01), changeWords(null)]).toEqual([
    'up 3.8',
    'down 2',
    'as before',
    null,
  ])
  expect([signed(1234.4), signed(-3), signed(0.2), oneDigit(-1.25)]).toEqual(['+1,234', '−3', '0', '−1.3'])
})

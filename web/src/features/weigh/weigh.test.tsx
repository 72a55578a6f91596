import type { FirstPage, Predictions, WeighedResult } from '@dew-trail/contract/weigh'
import { renderToStaticMarkup } from 'react-dom/server'
import { MemoryRouter } from 'react-router'
import { describe, expect, test } from 'vitest'
import { likelyText } from '../../keywords/likely-text.ts'
import { madeResult } from '../../../test/made-result.ts'
import { PageAsSeen } from './PageAsSeen.tsx'
import { PredictionsTable } from './PredictionsSection.tsx'
import { ReliabilityChart } from './ReliabilityChart.tsx'
import { resultColumns, usualColumns } from '../../keywords/result-columns.tsx'
import { ResultsTable } from '../../keywords/ResultsTable.tsx'
import { standsForPath } from '../../keywords/stands-for-path.ts'
import { StrengthCurve } from './StrengthCurve.tsx'

const result = (position: number, more: Partial<WeighedResult> = {}) =>
  madeResult(position, {
    snippet: 'A kiln (electric) for $5. Kilns last.',
    marked: ['kiln', 'kilns'],
    siteReach: { keywords: 3, visits: null, unknown: 3 },
    institutions: ['potters.college.example'],
    visits: 84,
    linkingSites: 12,
    links: 40,
    parts: [{ feature: 'coverage', value: 66, adds: 0.5 }],
    ...more,
  })
const page = (more: Partial<FirstPage> = {}): FirstPage =>
  ({
    keywordId: 1,
    phrase: 'kiln',
    fetchedOn: '2026-11-20',
    model: 'learnt strengths',
    scale: { takenOn: '2026-11-20', sites: 312, deep: true },
    features: { answer: true, questions: ['what is a kiln'], images: false, shopping: 0, map: 3, ads: 1 },
    results: [result(1), result(2), result(3, { own: true })],
    ...more,
  }) as FirstPage

describe('the results of a first page', () => {
  test('unknown figures are words, never 0', () => {
    const markup = renderToStaticMarkup(<ResultsTable page={page()} />)
    expect(markup.match(/>unknown</g)).toHaveLength(6)
    expect(markup).not.toContain('>0<')
    expect(markup).toContain('own-result')
  })
  test('say how they moved since an earlier day', () => {
    const positions = new Map([
      ['https://rival-1.example/kiln', 3],
      ['https://rival-2.example/kiln', 2],
    ])
    const markup = renderToStaticMarkup(<ResultsTable page={page()} before={{ day: '2026-10-20', positions }} />)
    expect(markup).toContain('up 2')
    expect(markup).toContain('same')
    expect(markup).toContain('new')
  })
  test('every figure can be chosen; the usual ones are shown without asking', () => {
    const heads = (columns?: string[]): number =>
      renderToStaticMarkup(<ResultsTable page={page()} {...(columns ? { columns } : {})} />).match(/<th /g)!.length
    expect(heads()).toBe(usualColumns.length + 2)
    expect(heads(resultColumns.map(column => column.key))).toBe(resultColumns.length + 2)
    const network = renderToStaticMarkup(
      <ResultsTable page={page({ results: [result(1, { network: true, siteTrust: 40 })] })} columns={['trust']} />,
    )
    expect(network).toContain('suspected link network')
  })
  test('counts of keywords open their list; unknown searches leave the visits unknown', () => {
    const markup = renderToStaticMarkup(
      <MemoryRouter>
        <ResultsTable
          page={page({ results: [result(1, { visits: null })] })}
          columns={['visits', 'siteKeywords', 'pageKeywords']}
          listOf={target => standsForPath(4, 2, target)}
        />
      </MemoryRouter>,
    )
    expect(markup).toContain('The searches of this keyword are not known')
    expect(markup).toContain('of=rival-1.example&amp;where=fed%3Ano&amp;where=now%3Ato%3A100')
    expect(markup).toContain('of=https%3A%2F%2Frival-1.example%2Fkiln')
  })
  test('a page that was read says when, and where the phrase stands in it; one that was not says how that comes', () => {
    const keys = ['pageStanding', 'pageTrust', 'read', 'allLinks', 'phrase']
    const of = (more: Partial<WeighedResult>): string =>
      renderToStaticMarkup(<ResultsTable page={page({ results: [result(1, more)] })} columns={keys} />)
    const known = of({
      pageStanding: 41.6,
      pageTrust: 0,
      readOn: '2026-11-18',
      siteLinks: 1_204,
      matches: { title: 'phrase', headings: 'near', text: 'all' },
    })
    for (const said of [
      '>42<',
      '>0<',
      'Nov 18, 2026',
      '1,204',
      'headings: all words close together',
      'text: all words',
    ])
      expect(known).toContain(said)
    const unknown = of({})
    expect(unknown.match(/>unknown</g)).toHaveLength(4)
    for (const said of ['Sources crawls sites', 'Sources loads links', 'headings: unknown'])
      expect(unknown).toContain(said)
  })
  test('as seen: marked words in bold, longest first, features around them', () => {
    const markup = renderToStaticMarkup(<PageAsSeen page={page()} />)
    expect(markup).toContain('A <b>kiln</b> (electric) for $5. <b>Kilns</b> last.')
    expect(markup).toContain('1 ad, an answer box, a map with 3 places')
    expect(markup).toContain('what is a kiln')
    const plain = renderToStaticMarkup(<PageAsSeen page={page({ results: [result(1, { marked: [] })] })} />)
    expect(plain).not.toContain('<b>')
  })
  test('likely places in words', () => {
    expect(likelyText(3, 8)).toBe('3–8')
    expect(likelyText(3, 3)).toBe('3')
    expect(likelyText(12, null)).toBe('12 to beyond 20')
    expect(likelyText(1, null)).toBe('unknown')
    expect(likelyText(null, null)).toBe('beyond 20')
  })
})

describe('what became of published pages', () => {
  type Row = Predictions['rows'][number]
  const row = (keywordId: number, more: Partial<Row> & Pick<Row, 'state'>): Row => ({
    pageId: 1,
    title: 'Wheels',
    keywordId,
    phrase: `wheel ${keywordId}`,
    marketId: 3,
    publishedOn: '2026-06-01',
    dueOn: '2026-07-31',
    chance: 0.6,
    likelyFrom: 4,
    likelyTo: 12,
    seenOn: null,
    position: null,
    depth: null,
    ...more,
  })
  const sum = { count: 2, expected: 1.2, happened: 1, spread: 0.7, verdict: 'few' as const }
  const render = (rows: Row[], of = sum): string =>
    renderToStaticMarkup(
      <MemoryRouter>
        <PredictionsTable predictions={{ rows, sum: of }} siteId={7} />
      </MemoryRouter>,
    )
  test('says what was promised, what it became, and what is open', () => {
    const markup = render([
      row(1, { state: 'judged', seenOn: '2026-08-01', position: 4, depth: 4 }),
      row(2, { state: 'judged', seenOn: '2026-08-02', depth: 20 }),
      row(3, { state: 'waiting', dueOn: '2026-12-24' }),
      row(4, { state: 'unseen' }),
    ])
    for (const text of [
      'Of 2 keywords',
      '<b>1.2</b>',
      '<b>1</b>',
      'Too few yet',
      '1 keyword waits',
      'until Dec 24, 2026',
      '1 keyword was not looked at since',
      'place 4 on Aug 1, 2026',
      'not within 20 on Aug 2, 2026',
      '/7/weigh/page/3?market=3',
    ])
      expect(markup).toContain(text)
  })
  test('without published pages it says how they come here', () => {
    expect(render([], { ...sum, count: 0 })).toContain('60 days later')
  })
})

describe('pictures of strengths', () => {
  test('a curve says from what to what it adds how much', () => {
    const markup = renderToStaticMarkup(
      <StrengthCurve name="links" curve={{ log: true, x: [0, Math.log1p(9)], y: [-0.5, 1] }} reach={3} />,
    )
    expect(markup).toContain('links from 0 to 9 adds up to 1.5')
  })
  test('chances said stand beside what happened', () => {
    const bins = [
      { from: 0, to: 0.1, count: 90, predicted: 0.04, happened: 0.05 },
      { from: 0.9, to: 1, count: 10, predicted: 0.95, happened: 0.8 },
    ]
    const markup = renderToStaticMarkup(<ReliabilityChart bins={bins} />)
    expect(markup).toContain('Predicted against happened: 4%: 5%, 95%: 80%')
    expect(markup).toContain('Said 95%, happened 80% of 10 results')
    expect(renderToStaticMarkup(<ReliabilityChart bins={[]} />)).toContain('svg')
  })
})

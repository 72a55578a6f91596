import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, test } from 'vitest'
import { ChanceBar } from './ChanceBar.tsx'
import { MonthBars } from './MonthBars.tsx'
import { PhraseStrip } from './PhraseStrip.tsx'
import { PositionLine } from './PositionLine.tsx'
import { RangeTrack } from './RangeTrack.tsx'
import { Slope } from './Slope.tsx'
import { SpreadBars } from './SpreadBars.tsx'
import { TerrainLarge, TerrainSmall } from './Terrain.tsx'
import { Terrains } from './Terrains.tsx'

const count = (markup: string, what: RegExp): number => markup.match(what)?.length ?? 0

describe('months', () => {
  test('an unknown month is a dot and said so, a zero is a bar', () => {
    const markup = renderToStaticMarkup(<MonthBars months={[10, null, 0, 5]} end="2026-10" />)
    expect(count(markup, /<circle/g)).toBe(1)
    expect(count(markup, /v-/g)).toBe(3)
    expect(markup).toContain('10, unknown, 0, 5')
  })
  test('no month known draws no bar', () =>
    expect(count(renderToStaticMarkup(<MonthBars months={[null, null]} end={null} />), /v-/g)).toBe(0))
})

describe('terrain', () => {
  const positions = [80, 60, 30].map((level, i) => ({
    position: i + 1,
    level,
    opening: level < 50,
    own: false,
    title: `t ${i}`,
  }))
  test('names every place and the own level, openings in the own colour', () => {
    const markup = renderToStaticMarkup(<TerrainLarge positions={positions} ownLevel={50} />)
    expect(markup).toContain('1: 80, 2: 60, 3: 30; your level 50')
    expect(count(markup, /r="4.5" fill="var\(--mui-palette-dew-own\)"/g)).toBe(1)
    expect(markup).toContain('below yours')
  })
  test('an unknown own level draws no line', () => {
    expect(renderToStaticMarkup(<TerrainLarge positions={positions} ownLevel={null} />)).not.toContain('your level')
    expect(renderToStaticMarkup(<TerrainSmall levels={[50, null, 20]} ownLevel={null} />)).not.toContain(
      'stroke-dasharray',
    )
  })
  test('the small one leaves unknown levels out and is empty without any', () => {
    expect(renderToStaticMarkup(<TerrainSmall levels={[50, null, 20]} ownLevel={40} />)).toContain('50, 20; yours 40')
    expect(renderToStaticMarkup(<TerrainSmall levels={[null]} ownLevel={40} />)).toBe('')
  })
})

describe('range track', () => {
  const dots = (before: number, now: number) => {
    const markup = renderToStaticMarkup(<RangeTrack before={before} now={now} />)
    return { hollow: count(markup, /r="3.2"/g), full: count(markup, /r="4"/g), worse: markup.includes('dew-fall') }
  }
  test.each([
    [9, 4, { hollow: 1, full: 1, worse: false }],
    [4, 9, { hollow: 1, full: 1, worse: true }],
    [4, 4, { hollow: 0, full: 1, worse: false }],
    [-100, 4, { hollow: 0, full: 1, worse: false }],
    [4, -100, { hollow: 1, full: 0, worse: true }],
    [0, 0, { hollow: 0, full: 0, worse: false }],
  ])('%d → %d', (before, now, expected) => expect(dots(before, now)).toEqual(expected))
})

test('a line of places breaks where nothing was found or checked', () => {
  const markup = renderToStaticMarkup(<PositionLine positions={[5, 4, 0, 3, -100, 2]} />)
  expect(count(markup, /M\d/g)).toBe(3)
})

test('difficulty gets steeper, a chance longer', () => {
  const top = (difficulty: number) =>
    Number(/ ([\d.]+) Z/.exec(renderToStaticMarkup(<Slope difficulty={difficulty} />))![1])
  expect(top(80)).toBeLessThan(top(20))
  const drawn = (chance: number): string => renderToStaticMarkup(<ChanceBar chance={chance} />)
  expect(drawn(0.62)).toContain('62%')
  // No prediction is sure.
  expect(drawn(0.9991)).toContain('&gt;99%')
  expect(drawn(0.994)).toContain('>99%<')
  expect(drawn(0.0004)).toContain('&lt;1%')
})

test('where the phrase stands is said in words, unseen fields as unknown', () => {
  const markup = renderToStaticMarkup(<PhraseStrip matches={{ title: 'phrase', address: 'some' }} />)
  expect(markup).toContain('title: whole phrase')
  expect(markup).toContain('address: some words')
  expect(markup).toContain('description: unknown')
  expect(markup.match(/class="unseen"/g)).toHaveLength(3)
  expect(renderToStaticMarkup(<PhraseStrip matches={{ title: 'none' }} />).match(/class="unseen"/g)).toHaveLength(4)
})

test('the spread takes one day a week, the last one among them', () => {
  const days = Array.from({ length: 15 }, (_, i) => ({
    day: `2026-11-${String(i + 1).padStart(2, '0')}`,
    top3: i,
    top10: 1,
    top30: 1,
    beyond: 0,
    notFound: 0,
  }))
  const markup = renderToStaticMarkup(<SpreadBars days={days} />)
  expect(count(markup, /<rect/g)).toBe(3 * 5)
  expect(markup).toContain('1–3 14')
})

describe('terrains of several keywords', () => {
  const terrains = [
    { id: 1, name: 'kick wheel', levels: [80, 70, 60] },
    { id: 2, name: 'a keyword with a name of many words', levels: [81, 70, 60.4] },
  ]
  test('are named in full for those who cannot see them, and keep their names apart', () => {
    const markup = renderToStaticMarkup(<Terrains terrains={terrains} ownLevel={55} />)
    expect(markup).toContain('kick wheel: 80, 70, 60; a keyword with a name of many words: 81, 70, 60; your level 55')
    const positions = [...markup.matchAll(/<text[^>]* y="([\d.]+)" font-size="12"/g)].map(match => Number(match[1]))
    expect(positions).toHaveLength(2)
    expect(Math.abs(positions[0]! - positions[1]!)).toBeGreaterThanOrEqual(15)
  })
  test('without an own level no line is drawn for it', () =>
    expect(renderToStaticMarkup(<Terrains terrains={terrains} ownLevel={null} />)).not.toContain('your level'))
})

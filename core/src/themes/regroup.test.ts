import { describe, expect, test } from 'vitest'
import { compareThemes } from './compare-themes.ts'
import { groupThemes } from './group-themes.ts'
import { packPages } from './keyword-pages.ts'
import { freeKeywords, type KeptPosition, type KeptTheme, regroup } from './regroup.ts'

const [wheel, clay] = [
  ['w1', 'w2', 'w3'],
  ['c1', 'c2', 'c3'],
]
const results = [wheel, wheel, clay, clay, wheel, ['x']]
const at = (theme: number | null, byHand = false): KeptPosition => ({ theme, byHand })
const theme = (id: number, lead: number, more: Partial<KeptTheme> = {}): KeptTheme => ({
  id,
  lead,
  locked: false,
  leadByHand: false,
  ...more,
})
function again(positions: KeptPosition[], themes: KeptTheme[]) {
  const free = freeKeywords(positions, themes)
  const found = groupThemes(packPages(free.map(i => results[i]!)), { threshold: 3, method: 'lead' })
  return regroup(positions, themes, free, found)
}

describe('grouping again', () => {
  test('gives themes that come again their ids: by the lead, else by most of their keywords', () => {
    const positions = [at(7), at(8), at(9), at(9), at(8), at(null)]
    expect(again(positions, [theme(7, 0), theme(8, 1), theme(9, 3)])).toEqual([
      { id: 7, lead: 0, members: [0, 1, 4] },
      { id: 9, lead: 2, members: [2, 3] },
    ])
    const moved = [at(8), at(8), at(9), at(null), at(null), at(null)]
    expect(again(moved, [theme(8, 4), theme(9, 5)]).map(each => each.id)).toEqual([8, 9])
  })
  test('keeps what was put by hand, in a theme or alone, and its theme alive', () => {
    const positions = [at(1), at(null, true), at(2), at(1, true), at(3, true), at(3, true)]
    expect(again(positions, [theme(1, 0), theme(2, 2), theme(3, 4)])).toEqual([
      { id: 1, lead: 3, members: [3] },
      { id: 3, lead: 4, members: [4, 5] },
    ])
  })
  test('leaves a locked theme as it is, and no other keyword joins it', () => {
    const positions = [at(1), at(1), at(2), at(2), at(null), at(1)]
    expect(again(positions, [theme(1, 0, { locked: true }), theme(2, 2)])).toEqual([
      { id: 1, lead: 0, members: [0, 1, 5] },
      { id: 2, lead: 2, members: [2, 3] },
    ])
  })
  test('keeps a lead that somebody chose while it is in the theme', () => {
    const positions = [at(1), at(1), at(2), at(2), at(1), at(null)]
    expect(again(positions, [theme(1, 4, { leadByHand: true }), theme(2, 2)])[1]).toEqual({
      id: 1,
      lead: 4,
      members: [0, 1, 4],
    })
    expect(again(positions, [theme(1, 5, { leadByHand: true })])[0]).toMatchObject({ id: 1, lead: 0 })
  })
  test('is the same when nothing was there before, but for the ids', () => {
    expect(
      again(
        Array.from({ length: 6 }, () => at(null)),
        [],
      ),
    ).toEqual([
      { id: null, lead: 0, members: [0, 1, 4] },
      { id: null, lead: 2, members: [2, 3] },
    ])
  })
})

test('two groupings side by side: what is the same, split, merged, moved', () => {
  const here = Int32Array.of(0, 0, 0, 1, 1, 2, 2, -1)
  const there = Int32Array.of(5, 5, 6, 6, 6, 7, 7, 7)
  expect(compareThemes(here, there)).toEqual({
    same: 0,
    split: [
      {
        theme: 0,
        parts: [
          { theme: 5, keywords: 2 },
          { theme: 6, keywords: 1 },
        ],
      },
    ],
    merged: [
      {
        theme: 6,
        parts: [
          { theme: 1, keywords: 2 },
          { theme: 0, keywords: 1 },
        ],
      },
    ],
    moved: [2, 7],
  })
  expect(compareThemes(here, here)).toEqual({ same: 3, split: [], merged: [], moved: [] })
})

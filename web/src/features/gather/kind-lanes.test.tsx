// @vitest-environment jsdom
import { kindGroups } from '@dew-trail/core/words/kind-groups'
import { screen, within } from '@testing-library/react'
import { beforeAll, describe, expect, test, vi } from 'vitest'
import type { Row, WholeSource } from '../../rows/row-source.ts'
import { showScreen } from '../../../test/show-screen.tsx'
import KindLanesView from './KindLanesView.tsx'
import { layOutLanes } from './lanes-layout.ts'

describe('the layout of lanes', () => {
  const phrases = Array.from({ length: 40 }, (_, id) => ({
    id,
    phrase: `${['how', 'what', 'why'][id % 3]} kiln ${id}`,
    weight: id % 4 ? id * 100 : null,
  }))
  const groups = kindGroups(phrases, 'question', 'en', null)
  test.each([300, 700, 1_280, 4_000])('lanes and phrases do not touch in %i pixels, none is lost', width => {
    const { lanes, height, width: whole } = layOutLanes(groups, width, new Set(['how', 'what', 'why']))
    expect(lanes.flatMap(lane => lane.phrases)).toHaveLength(40)
    for (const [i, lane] of lanes.entries()) {
      if (i) expect(lane.y).toBeGreaterThan(lanes[i - 1]!.y + lanes[i - 1]!.height)
      const taken = new Set(lane.phrases.map(each => `${each.x} ${each.y}`))
      expect(taken.size).toBe(lane.phrases.length)
      for (const { x, y, bar, width: room } of lane.phrases) {
        expect(x + room).toBeLessThanOrEqual(whole)
        expect(y).toBeGreaterThanOrEqual(lane.y)
        expect(y).toBeLessThan(lane.y + lane.height)
        expect(bar).toBeLessThanOrEqual(room)
      }
    }
    expect(height).toBeGreaterThan(lanes.at(-1)!.y + lanes.at(-1)!.height)
    if (width >= 700) expect(whole).toBeLessThanOrEqual(width)
  })
  test('the first lines of a lane are shown until it is open, what is left is counted', () => {
    const lanes = layOutLanes(groups, 700, new Set(['what'])).lanes
    expect(lanes.map(({ group, phrases: shown, more }) => [group.word, shown.length, more])).toEqual(
      groups.map(({ word, phrases: all }) => (word === 'what' ? [word, all.length, 0] : [word, 8, all.length - 8])),
    )
  })
  test('what is searched four times as much has a bar twice as long, what is unknown none', () => {
    const lanes = layOutLanes(
      kindGroups(
        [
          { phrase: 'how a', weight: 400 },
          { phrase: 'how b', weight: 100 },
          { phrase: 'how c', weight: null },
        ],
        'question',
        'en',
        null,
      ),
      900,
      new Set(),
    )
    const [most, less, unknown] = lanes.lanes[0]!.phrases.map(each => each.bar)
    expect(most! / less!).toBe(2)
    expect(unknown).toBe(0)
  })
})

describe('keywords by their words', () => {
  beforeAll(() => {
    vi.stubGlobal(
      'ResizeObserver',
      class {
        observe() {}
        disconnect() {}
      },
    )
  })
  const row = (id: number, phrase: string, kind: string, searches: number | null, kept = false): Row =>
    ({ id, phrase, kind, searches, kept }) as Row
  const rows = [
    row(1, 'how to fire a kiln', 'question', 40),
    row(2, 'how hot is a kiln', 'question', 90, true),
    row(3, 'what is a kiln', 'question', null),
    row(4, 'kiln for glass', 'preposition', 300),
  ]
  const source = {
    subscribe: () => () => undefined,
    listVersion: 1,
    ids: async () => rows.map(each => each.id),
    rows: async (ids: number[]) => rows.filter(each => ids.includes(each.id)),
  } as unknown as WholeSource
  const show = (address = '/1', kinds: Record<string, number> | null = null) => {
    const [keep, gather] = [vi.fn(), vi.fn()]
    const shown = showScreen(
      <KindLanesView
        seed="kiln"
        kinds={kinds}
        language="en"
        source={source}
        fileName="kiln"
        onKeep={keep}
        onGather={gather}
      />,
      [],
      address,
    )
    return { ...shown, keep, gather }
  }
  test('stand under them, most searched first; a click keeps one or a whole lane', async () => {
    const { user, keep } = show()
    const tree = await screen.findByRole('tree', { name: /Questions under their question words/ })
    expect(
      within(tree)
        .getAllByRole('treeitem')
        .map(each => each.getAttribute('aria-label')),
    ).toEqual([
      'how: 2 keywords, 130 searches a month',
      'how hot is a kiln, 90 searches a month, kept',
      'how to fire a kiln, 40 searches a month',
      'what: 1 keyword, searches unknown',
      'what is a kiln, searches unknown',
    ])
    await user.click(within(tree).getByText('how to fire a kiln', { selector: 'text' }))
    await user.click(within(tree).getByText('how', { selector: 'text' }))
    expect(keep.mock.calls).toEqual([[[1]], [[2, 1]]])
  })
  test('are walked by keys, a lane after the other, and gathered from by Enter', async () => {
    const { user, gather } = show()
    const items = within(await screen.findByRole('tree')).getAllByRole('treeitem')
    await user.click(screen.getByRole('radio', { name: 'gathers from it' }))
    items[0]!.focus()
    await user.keyboard('{ArrowRight}{ArrowRight}')
    expect(document.activeElement).toBe(items[2])
    await user.keyboard('{Enter}{ArrowDown}')
    expect(document.activeElement).toBe(items[3])
    await user.keyboard('{Enter}{ArrowUp}{ArrowUp}')
    expect(document.activeElement).toBe(items[0])
    expect(gather.mock.calls).toEqual([[[1]], [[3]]])
  })
  test('what does not fit a lane at first is counted and opened', async () => {
    rows.push(...Array.from({ length: 30 }, (_, i) => row(100 + i, `how to kiln ${i}`, 'question', 1)))
    const { user, keep } = show()
    const more = await screen.findByRole('treeitem', { name: '24 more with how' })
    expect(screen.queryByText('how to kiln 29', { selector: 'text' })).toBeNull()
    await user.click(more)
    expect(screen.getByText('how to kiln 29', { selector: 'text' })).toBeTruthy()
    expect(screen.queryByRole('treeitem', { name: /more with/ })).toBeNull()
    expect(keep).not.toHaveBeenCalled()
    rows.splice(4)
  })
  test('of a long list it draws the first, says so, and counts all as the list does', async () => {
    const many = { ...source, ids: async () => Array.from({ length: 60_000 }, (_, i) => (i < 3 ? i + 1 : 1_000 + i)) }
    showScreen(
      <KindLanesView
        seed="kiln"
        kinds={{ question: 41_000, preposition: 19_000 }}
        language="en"
        source={many as unknown as WholeSource}
        fileName="kiln"
        onKeep={vi.fn()}
        onGather={vi.fn()}
      />,
      [],
      '/1',
    )
    expect((await screen.findByText(/Drawn from the first/)).textContent).toContain(
      'Drawn from the first 5,000 of 60,000',
    )
    expect(screen.getByRole('radio', { name: 'Question 41,000' })).toBeTruthy()
  })
  test('another kind is chosen in the address; one that nobody found says so', async () => {
    const { user } = show('/1?kindOf=preposition')
    expect(await screen.findByRole('treeitem', { name: 'for: 1 keyword, 300 searches a month' })).toBeTruthy()
    await user.click(screen.getByRole('radio', { name: /Comparison/ }))
    expect(await screen.findByText('No keyword of this kind')).toBeTruthy()
  })
})

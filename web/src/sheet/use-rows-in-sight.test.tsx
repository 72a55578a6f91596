// @vitest-environment jsdom
import { act } from 'react'
import { createRoot, type Root } from 'react-dom/client'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { layOut } from '../../test/lay-out.ts'
import { RowOffsets } from './row-offsets.ts'
import { useRowsInSight } from './use-rows-in-sight.ts'

let root: Root
let scroll: (top: number) => void
let seen: ReturnType<typeof useRowsInSight>
let draws = 0

/** The window is 334 px high, of which the head covers 34. */
beforeEach(() => {
  vi.stubGlobal('IS_REACT_ACT_ENVIRONMENT', true)
  layOut(334)
  draws = 0
})
afterEach(async () => {
  await act(async () => root.unmount())
  vi.restoreAllMocks()
  vi.unstubAllGlobals()
})

function List({ offsets }: { offsets: RowOffsets }) {
  seen = useRowsInSight(offsets, 34)
  draws++
  return <div ref={seen.attach} />
}
const show = async (offsets: RowOffsets): Promise<void> => {
  const box = document.createElement('div')
  root = createRoot(box)
  await act(async () => root.render(<List offsets={offsets} />))
  const element = box.firstElementChild!
  scroll = top => act(() => element.scrollTo({ top }))
}

test('rows in the window are drawn, and five beside them', async () => {
  await show(new RowOffsets(1_000, 30))
  expect([seen.first, seen.end]).toEqual([0, 16])
  scroll(3_000)
  expect([seen.first, seen.end]).toEqual([95, 116])
  scroll(1_000_000)
  expect([seen.first, seen.end]).toEqual([985, 1_000])
})

test('scrolling within a row draws nothing anew', async () => {
  await show(new RowOffsets(1_000, 30))
  scroll(3_001)
  const before = draws
  scroll(3_010)
  scroll(3_028)
  expect(draws).toBe(before)
  scroll(3_031)
  expect(draws).toBe(before + 1)
})

test('a row asked for is scrolled to no farther than it must, below the head', async () => {
  await show(new RowOffsets(1_000, 30, [{ index: 3, extra: 90 }]))
  seen.scrollTo(5)
  expect(seen.first).toBe(0)
  act(() => seen.scrollTo(500))
  // Its lower edge is at the window's: 501 rows and 90 px above it, 300 px in sight.
  expect(seen.end).toBe(501 + 1 + 5)
})

test('an empty list and one that shrank draw only what there is', async () => {
  await show(new RowOffsets(0, 30))
  expect([seen.first, seen.end]).toEqual([0, 0])
  await act(async () => root.render(<List offsets={new RowOffsets(1_000, 30)} />))
  scroll(20_000)
  await act(async () => root.render(<List offsets={new RowOffsets(20, 30)} />))
  expect(seen.end).toBe(20)
  expect(seen.first).toBeLessThanOrEqual(10)
})

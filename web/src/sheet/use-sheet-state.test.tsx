// @vitest-environment jsdom
import { act } from 'react'
import { createRoot, type Root } from 'react-dom/client'
import { MemoryRouter, useLocation, useNavigate } from 'react-router'
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { type SheetState, useSheetState } from './use-sheet-state.ts'

let root: Root
let state: SheetState
let address = ''
let go: (to: string) => void
let back: () => void
function Probe() {
  state = useSheetState('-searches')
  address = useLocation().search
  const navigate = useNavigate()
  go = navigate
  back = () => navigate(-1)
  return null
}
const show = async (at: string) => {
  root = createRoot(document.createElement('div'))
  await act(async () =>
    root.render(
      <MemoryRouter initialEntries={[at]}>
        <Probe />
      </MemoryRouter>,
    ),
  )
}
beforeEach(() => {
  vi.stubGlobal('IS_REACT_ACT_ENVIRONMENT', true)
  vi.useFakeTimers()
})
afterEach(async () => {
  await act(async () => root.unmount())
  vi.useRealTimers()
  vi.unstubAllGlobals()
})
const rest = () =>
  act(async () => {
    vi.advanceTimersByTime(1_000)
  })
const type = (value: string) => act(async () => state.setWhere(value ? [{ column: 'phrase', op: 'has', value }] : []))

describe('the state of a sheet', () => {
  test('is read from the address; what cannot be read is left out', async () => {
    await show('/gather?where=searches:from:100&where=nonsense&sort=phrase,-cpc&open=3,4')
    expect(state.where).toEqual([{ column: 'searches', op: 'from', value: 100 }])
    expect(state.sort).toEqual([
      { column: 'phrase', down: false },
      { column: 'cpc', down: true },
    ])
    expect(state.open).toEqual([3, 4])
  })
  test('every keystroke counts at once, the address follows when typing rests and keeps what is not ours', async () => {
    await show('/gather?market=2')
    for (const text of ['k', 'ki', 'kil', 'kiln']) {
      await type(text)
      expect(state.where).toEqual([{ column: 'phrase', op: 'has', value: text }])
    }
    expect(address).toBe('?market=2')
    await rest()
    expect(new URLSearchParams(address).getAll('where')).toEqual(['phrase:has:kiln'])
    expect(new URLSearchParams(address).get('market')).toBe('2')
    await type('')
    await rest()
    expect(address).toBe('?market=2')
  })
  test('Back goes back one thing: what was typed into one condition is one, another condition or row another', async () => {
    await show('/gather')
    await type('k')
    await rest()
    await type('kiln')
    await rest()
    await act(async () => state.toggleOpen(7))
    await rest()
    expect(state).toMatchObject({ where: [{ value: 'kiln' }], open: [7] })
    await act(async () => back())
    expect(state).toMatchObject({ where: [{ value: 'kiln' }], open: [] })
    await act(async () => back())
    expect(state).toMatchObject({ where: [], open: [] })
  })
  test('each seed that is chosen beside another is a step that Back takes', async () => {
    await show('/gather')
    const choose = (value: string[]) => act(async () => state.setWhere([{ column: 'gatherings', op: 'any', value }]))
    await choose(['2'])
    await rest()
    await choose(['2', '4'])
    await rest()
    await act(async () => back())
    expect(state.where).toEqual([{ column: 'gatherings', op: 'any', value: ['2'] }])
    await act(async () => back())
    expect(state.where).toEqual([])
  })
  test('an address that changes by itself is taken over', async () => {
    await show('/gather')
    await type('old')
    await act(async () => go('/gather?where=phrase%3Ahas%3Anew'))
    await rest()
    expect(state.where).toEqual([{ column: 'phrase', op: 'has', value: 'new' }])
    expect(new URLSearchParams(address).getAll('where')).toEqual(['phrase:has:new'])
  })
  test('the usual order is not written, another one is; rows fold and unfold', async () => {
    await show('/gather')
    await act(async () => state.setSort([{ column: 'cpc', down: true }]))
    await act(async () => state.toggleOpen(7))
    await act(async () => state.toggleOpen(9))
    await act(async () => state.toggleOpen(7))
    await rest()
    expect(address).toBe('?sort=-cpc&open=9')
    await act(async () => state.setSort([{ column: 'searches', down: true }]))
    await act(async () => state.toggleOpen(9))
    await rest()
    expect(address).toBe('')
  })
})

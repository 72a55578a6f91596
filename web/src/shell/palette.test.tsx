// @vitest-environment jsdom
import { findPhrases } from '@dew-trail/contract/gather'
import { checkNow } from '@dew-trail/contract/track'
import { screen, waitFor } from '@testing-library/react'
import { useLocation } from 'react-router'
import { describe, expect, test, vi } from 'vitest'
import { answer, showScreen } from '../../test/show-screen.tsx'
import { Palette } from './Palette.tsx'

let address = ''
function Address() {
  const { pathname, search } = useLocation()
  address = pathname + search
  return null
}
const show = () => {
  const [onClose, onHelp] = [vi.fn(), vi.fn()]
  const shown = showScreen(
    <>
      <Palette onClose={onClose} onHelp={onHelp} />
      <Address />
    </>,
    [answer(findPhrases, () => ['kiln price', 'kiln kit']), answer(checkNow, () => ({ jobId: 3, requests: 12 }))],
  )
  return { ...shown, onClose, onHelp }
}
const field = () => screen.getByPlaceholderText('Type a keyword, a place, a page, a list or an action')

describe('going anywhere by the keyboard', () => {
  test('a station by its first letters and Enter, in the market that is open', async () => {
    const { user, onClose } = show()
    await user.type(field(), 'wei{Enter}')
    await waitFor(() => expect(address).toBe('/1/weigh?market=1'))
    expect(onClose).toHaveBeenCalledOnce()
  })
  test('a keyword of the site is found by what is typed, and opened as a condition', async () => {
    const { user, requests } = show()
    await user.type(field(), 'kil')
    await user.click(await screen.findByRole('option', { name: 'kiln kit' }))
    expect(address).toBe('/1/gather?where=phrase%3Ahas%3Akiln%20kit&market=1')
    expect(requests.at(-1)!.url).toContain('text=kil')
  })
  test('one letter asks the server for nothing; what nobody knows says so', async () => {
    const { user, requests } = show()
    await user.type(field(), 'x')
    await user.type(field(), 'yzzy')
    expect(await screen.findByText('Nothing by that name')).toBeTruthy()
    await waitFor(() => expect(requests.at(-1)?.url).toContain('text=xyzzy'))
    expect(requests.every(({ url }) => !url.endsWith('text=x'))).toBe(true)
  })
  test('an action is done and said', async () => {
    const { user, requests } = show()
    await user.type(field(), 'check pos{Enter}')
    expect(await screen.findByText('Checking has started')).toBeTruthy()
    expect(requests.some(({ spec }) => spec === checkNow)).toBe(true)
  })
  test('every part of a screen is there, once', async () => {
    const { user } = show()
    await user.type(field(), 'rivals:')
    await waitFor(() => expect(screen.getByRole('option', { name: 'Rivals: Advertising' })).toBeTruthy())
    expect(screen.getAllByRole('option').map(each => each.textContent)).toEqual([
      'Rivals: who they are',
      'Rivals: overlap of keywords',
      'Rivals: Keywords',
      'Rivals: Pages',
      'Rivals: Advertising',
      'Rivals: Over time',
    ])
  })
  test('the shortcuts are a word away', async () => {
    const { user, onHelp } = show()
    await user.type(field(), 'shortc{Enter}')
    expect(onHelp).toHaveBeenCalledOnce()
  })
})

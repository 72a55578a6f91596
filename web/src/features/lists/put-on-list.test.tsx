// @vitest-environment jsdom
import { addList, changeList, listLists } from '@dew-trail/contract/lists'
import { screen, waitFor } from '@testing-library/react'
import { expect, test, vi } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import PutOnListDialog from './PutOnListDialog.tsx'

const list = answer(listLists, () => [
  { id: 5, kind: 'shortlist' as const, name: 'Winter', keywords: 30, visitWorth: null },
])

test('keywords are put on a list; undo takes back that act', async () => {
  const onClose = vi.fn()
  const { user, requests, undone } = showScreen(<PutOnListDialog ids={[3, 4]} onClose={onClose} />, [
    list,
    answer(changeList, () => ({ changed: [4], actId: 12 })),
  ])
  await user.click(await screen.findByRole('button', { name: /^Winter/ }))
  expect(onClose).toHaveBeenCalledOnce()
  expect(await screen.findByText('1 keyword put on "Winter"')).toBeTruthy()
  await user.click(await screen.findByRole('button', { name: 'Undo', hidden: true }))
  await waitFor(() => expect(undone()).toEqual([12]))
  const changes = requests.filter(({ spec }) => spec === changeList)
  expect(changes.map(each => each.body)).toEqual([{ keywordIds: [3, 4], on: true }])
  expect(changes[0]!.url).toContain('/lists/5/')
})

test('a new one is made on the way; what was on it already is said', async () => {
  const { user } = showScreen(<PutOnListDialog ids={[3]} onClose={() => undefined} />, [
    list,
    answer(addList, ({ body }) => ({
      id: 6,
      kind: 'shortlist' as const,
      name: String(body.name),
      keywords: 0,
      visitWorth: null,
    })),
    answer(changeList, ({ url }) => (url.includes('/6/') ? { changed: [3], actId: 1 } : { changed: [], actId: null })),
  ])
  await user.type(await screen.findByRole('textbox', { name: 'Name of a new shortlist' }), 'Spring{Enter}')
  expect(await screen.findByText('1 keyword put on "Spring"')).toBeTruthy()
  await user.click(await screen.findByRole('button', { name: /^Winter/ }))
  expect(await screen.findByText('Already on "Winter"')).toBeTruthy()
})

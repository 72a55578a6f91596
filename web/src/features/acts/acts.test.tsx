// @vitest-environment jsdom
import { listActs } from '@dew-trail/contract/acts'
import { screen, waitFor } from '@testing-library/react'
import { expect, test } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import { useAct } from '../../ui/use-act.ts'
import ActsDialog from './ActsDialog.tsx'
import { undoLast } from './undo-acts.tsx'

const at = '2026-11-29T10:00:00Z'
const acts = [
  { id: 9, at, title: '2 keywords kept', who: 'this machine', undoneAt: at },
  { id: 8, at, title: '"Spring" removed', who: 'Ana Rye', undoneAt: null },
]
function Last() {
  const act = useAct()
  return (
    <button type="button" onClick={() => void undoLast(1, act)}>
      Last
    </button>
  )
}

test('what was done is listed with its undo; what is undone says so', async () => {
  const { user, undone } = showScreen(<ActsDialog onClose={() => undefined} />, [answer(listActs, () => acts)])
  expect((await screen.findByText('2 keywords kept')).closest('tr')!.textContent).toContain('undone')
  await user.click(screen.getByRole('button', { name: 'Undo: "Spring" removed' }))
  expect(await screen.findByText('Undone: "Spring" removed')).toBeTruthy()
  expect(undone()).toEqual([8])
})

test('the last thing done is the last that is not undone; without one it says so', async () => {
  let list = acts
  const { user, undone } = showScreen(<Last />, [answer(listActs, () => list)])
  await user.click(screen.getByText('Last'))
  await waitFor(() => expect(undone()).toEqual([8]))
  list = acts.slice(0, 1)
  await user.click(screen.getByText('Last'))
  expect(await screen.findByText('There is nothing to undo')).toBeTruthy()
  expect(undone()).toEqual([8])
})

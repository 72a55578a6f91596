// @vitest-environment jsdom
import { listNotes } from '@dew-trail/contract/notes'
import { acceptInvitation, makeFirstAccount, readInvitation, readMe, signIn } from '@dew-trail/contract/people'
import { screen, waitFor } from '@testing-library/react'
import { Route, Routes } from 'react-router'
import { expect, test, vi } from 'vitest'
import { answer, showScreen } from '../../test/show-screen.tsx'
import { signedOutEvent } from '../api/call.ts'
import Invitation from './Invitation.tsx'
import { SignedOut } from './SignedOut.tsx'
import { SignIn } from './SignIn.tsx'

const state = (is: 'first' | 'needed') =>
  answer(readMe, () => ({ signIn: is, person: null, isAdministrator: false, roles: [] }))
const password = 'brisk otter paints nine jars'

test('signs in; a wrong password is said where it was typed, and what was typed stays', async () => {
  const onIn = vi.fn()
  let right = false
  const { user, bodies } = showScreen(<SignIn onIn={onIn} />, [
    state('needed'),
    answer(signIn, () => (right ? {} : new Error('The mail address or the password is wrong.'))),
  ])
  await user.type(await screen.findByLabelText(/Mail address/), 'ana.rye@kilnandtide.example')
  await user.type(screen.getByLabelText(/Password/), password)
  await user.click(screen.getByRole('button', { name: 'Sign in' }))
  expect((await screen.findByRole('alert')).textContent).toBe('The mail address or the password is wrong.')
  expect((screen.getByLabelText(/Password/) as HTMLInputElement).value).toBe(password)
  expect(onIn).not.toHaveBeenCalled()
  right = true
  await user.keyboard('{Enter}')
  await user.click(screen.getByRole('button', { name: 'Sign in' }))
  await waitFor(() => expect(onIn).toHaveBeenCalled())
  expect(bodies(signIn)[0]).toEqual({ email: 'ana.rye@kilnandtide.example', password })
})

test('the first account wants the code of the terminal', async () => {
  const onIn = vi.fn()
  const { user, bodies } = showScreen(<SignIn onIn={onIn} />, [state('first'), answer(makeFirstAccount, () => ({}))])
  await user.type(await screen.findByLabelText(/Code from the terminal/), 'QgKruzyNFqxC')
  await user.type(screen.getByLabelText(/Your name/), 'Ana Rye')
  await user.type(screen.getByLabelText(/Mail address/), 'ana.rye@kilnandtide.example')
  await user.type(screen.getByLabelText(/Password/), password)
  await user.click(screen.getByRole('button', { name: 'Make the account' }))
  await waitFor(() => expect(onIn).toHaveBeenCalled())
  expect(bodies(makeFirstAccount)).toEqual([
    { code: 'QgKruzyNFqxC', name: 'Ana Rye', email: 'ana.rye@kilnandtide.example', password },
  ])
})

test('an invitation says who invited whom to what; one that has ended says so', async () => {
  const show = (works: boolean) =>
    showScreen(
      <Routes>
        <Route path="/invitation/:token" element={<Invitation />} />
        <Route path="/" element={<p>inside</p>} />
      </Routes>,
      [
        answer(readInvitation, () =>
          works
            ? {
                email: 'rea@kilnandtide.example',
                madeBy: 'Ana Rye',
                isNewPassword: false,
                sites: ['kilnandtide.example'],
              }
            : new Error('This invitation is not there: it was used, taken back, or has ended.'),
        ),
        answer(acceptInvitation, () => ({})),
      ],
      '/invitation/abcdefghijklmnopqrstuvwx',
    )
  const { user, bodies } = show(true)
  expect(await screen.findByText('Ana Rye invited rea@kilnandtide.example to kilnandtide.example.')).toBeTruthy()
  await user.type(screen.getByLabelText(/Your name/), 'Rea Dune')
  await user.type(screen.getByLabelText(/Password/), password)
  await user.click(screen.getByRole('button', { name: 'Make the account' }))
  expect(await screen.findByText('inside')).toBeTruthy()
  expect(bodies(acceptInvitation)).toEqual([{ name: 'Rea Dune', password }])
  show(false)
  expect(await screen.findByText(/was used, taken back, or has ended/)).toBeTruthy()
})

test('when the session ends in the middle of work, what is shown stays under the question', async () => {
  showScreen(
    <>
      <p>half a sentence</p>
      <SignedOut />
    </>,
    [state('needed'), answer(listNotes, () => [])],
  )
  expect(screen.queryByRole('dialog')).toBeNull()
  window.dispatchEvent(new Event(signedOutEvent))
  expect(await screen.findByRole('dialog')).toBeTruthy()
  expect(screen.getByText('half a sentence')).toBeTruthy()
})

// @vitest-environment jsdom
import { endAccessKey, listAccessKeys, makeAccessKey } from '@dew-trail/contract/access-keys'
import { listJobs } from '@dew-trail/contract/jobs'
import { changeMember, invite, listActivity, listMembers, readMe } from '@dew-trail/contract/people'
import { addWebHook, listWebHooks, testWebHook } from '@dew-trail/contract/web-hooks'
import { screen, waitFor, within } from '@testing-library/react'
import { expect, test } from 'vitest'
import { type Answer, answer, showScreen } from '../../../test/show-screen.tsx'
import PeopleScreen from './PeopleScreen.tsx'

const at = '2026-11-20T10:00:00Z'
const me = (more: object = {}) =>
  answer(readMe, () => ({
    signIn: 'done' as const,
    person: { id: 1, name: 'Ana Rye', email: 'ana.rye@kilnandtide.example' },
    isAdministrator: false,
    roles: [{ siteId: 1, role: 'owner' as const }],
    ...more,
  }))
const people = [
  {
    accountId: 1,
    name: 'Ana Rye',
    email: 'ana.rye@kilnandtide.example',
    role: 'owner' as const,
    isAdministrator: true,
    lastSeenAt: at,
  },
  {
    accountId: 2,
    name: 'Rea Dune',
    email: 'rea@kilnandtide.example',
    role: 'reader' as const,
    isAdministrator: false,
    lastSeenAt: null,
  },
]
const show = (see: string, answers: Answer[]) =>
  showScreen(<PeopleScreen />, [...answers, answer(listJobs, () => [])], `/1/people${see ? `?see=${see}` : ''}`)

test('an owner lets people in, changes what they may, and sees the address once', async () => {
  const { user, bodies } = show('', [
    me(),
    answer(listMembers, () => ({ people, invitations: [] })),
    answer(invite, () => ({ address: 'https://trail.example/invitation/abcdefghijklmnopqrstuvwxyz' })),
    answer(changeMember, () => ({})),
  ])
  const row = (await screen.findByText('Rea Dune')).closest('tr')!
  expect(row.textContent).toContain('not yet')
  await user.selectOptions(within(row).getByLabelText('What Rea Dune may do'), 'editor')
  await screen.findByText('Rea Dune is editor now')
  expect(bodies(changeMember)).toEqual([{ role: 'editor' }])
  await user.type(screen.getByLabelText(/Mail address/), 'new@kilnandtide.example')
  await user.click(screen.getByRole('button', { name: 'Invite' }))
  const address = (await screen.findByLabelText('Shown once')) as HTMLInputElement
  expect(address.value).toBe('https://trail.example/invitation/abcdefghijklmnopqrstuvwxyz')
  expect(bodies(invite)).toEqual([{ email: 'new@kilnandtide.example', role: 'editor' }])
  await user.click(screen.getByRole('button', { name: 'Done' }))
  expect(screen.queryByLabelText('Shown once')).toBeNull()
})

test('a reader sees who is there and can change nothing', async () => {
  show('', [
    me({ roles: [{ siteId: 1, role: 'reader' }] }),
    answer(listMembers, () => ({
      people: people.map(each => ({ ...each, email: null, lastSeenAt: null })),
      invitations: [],
    })),
  ])
  expect(await screen.findByText('Rea Dune')).toBeTruthy()
  expect(screen.queryByRole('button', { name: 'Invite' })).toBeNull()
  expect(screen.queryByRole('combobox')).toBeNull()
  expect(screen.queryByText('All accounts')).toBeNull()
})

test('on this machine alone it says why nobody signs in', async () => {
  show('', [
    me({ signIn: 'none', person: null, isAdministrator: true, roles: [] }),
    answer(listMembers, () => ({ people: [], invitations: [] })),
  ])
  expect(await screen.findByText(/Only this machine reaches the program/)).toBeTruthy()
  expect(screen.queryByText('Let somebody in')).toBeNull()
  expect(screen.queryByText('Your account')).toBeNull()
})

test('a key is shown once and can be ended', async () => {
  const key = {
    id: 4,
    name: 'Nightly export',
    hint: 'x9Qa',
    role: 'reader' as const,
    everySite: false,
    madeBy: 'Ana Rye',
    madeAt: at,
    lastUsedAt: null,
    endedAt: null,
  }
  const { user, bodies, requests } = show('keys', [
    me(),
    answer(listAccessKeys, () => [key, { ...key, id: 3, name: 'Old', endedAt: at }]),
    answer(makeAccessKey, () => ({ id: 5, key: 'dew_abcdefgh' })),
    answer(endAccessKey, () => ({})),
  ])
  expect((await screen.findByText('Nightly export')).closest('tr')!.textContent).toContain('never')
  expect(screen.getByText('Old').closest('tr')!.textContent).toContain('ended')
  await user.type(screen.getByLabelText(/^Name/), 'Dashboards')
  await user.click(screen.getByRole('button', { name: 'Make it' }))
  expect(((await screen.findByLabelText('Shown once')) as HTMLInputElement).value).toBe('dew_abcdefgh')
  expect(bodies(makeAccessKey)).toEqual([{ name: 'Dashboards', role: 'reader', everySite: false }])
  await user.click(screen.getByRole('button', { name: 'End the key "Nightly export"' }))
  await waitFor(() => expect(requests.at(-1)!.url).toContain('/access-keys/4'))
})

test('a hook is added with its secret, tried, and tells what went wrong', async () => {
  const { user, bodies } = show('hooks', [
    me(),
    answer(listWebHooks, () => ({
      hooks: [
        {
          id: 1,
          address: 'https://hooks.kilnandtide.example/dew',
          events: ['alert' as const],
          active: true,
          version: 1,
          lastGoodAt: null,
          lastFailure: { at, what: 'It answered with status 500' },
        },
      ],
      deliveries: [
        {
          id: 7,
          hookId: 1,
          event: 'alert' as const,
          title: 'Visibility fell',
          madeAt: at,
          state: 'failed' as const,
          tries: 6,
          nextTryAt: null,
          status: 500,
          what: 'It answered with status 500',
        },
      ],
    })),
    answer(addWebHook, () => ({ id: 2, secret: 'shh' })),
    answer(testWebHook, () => ({ delivered: false, status: 404, what: 'It answered with status 404' })),
  ])
  expect(await screen.findByText('Visibility fell')).toBeTruthy()
  expect(screen.getByRole('button', { name: 'Try "Visibility fell" again' })).toBeTruthy()
  await user.click(screen.getByRole('button', { name: 'Send a test to https://hooks.kilnandtide.example/dew' }))
  expect(await screen.findByText('The test did not come through: It answered with status 404')).toBeTruthy()
  await user.type(screen.getByLabelText(/^Address/), 'https://other.kilnandtide.example/')
  await user.click(screen.getByLabelText('Finished work'))
  await user.click(screen.getByRole('button', { name: 'Add' }))
  await screen.findByLabelText('Shown once')
  expect(bodies(addWebHook)).toEqual([
    { address: 'https://other.kilnandtide.example/', events: ['alert', 'jobFailed', 'jobDone'] },
  ])
})

test('what was done is narrowed by kind and person, and read further back', async () => {
  const lines = (from: number) =>
    Array.from({ length: 100 }, (_, i) => ({
      id: from - i,
      at,
      who: i % 2 ? 'Ana Rye' : 'Rea Dune',
      address: '192.0.2.7',
      kind: 'act' as const,
      what: `Change ${from - i}`,
    }))
  const { user, requests } = show('done', [
    me(),
    answer(listActivity, ({ url }) => (url.includes('before=') ? lines(400).slice(0, 3) : lines(500))),
  ])
  expect(await screen.findByText('Change 500')).toBeTruthy()
  await user.click(screen.getByRole('button', { name: 'Further back' }))
  expect(await screen.findByText('Change 398')).toBeTruthy()
  expect(requests.at(-1)!.url).toContain('before=401')
  await user.click(screen.getAllByRole('button', { name: 'Rea Dune' })[0]!)
  await waitFor(() => expect(requests.at(-1)!.url).toContain('who=Rea+Dune'))
  await user.selectOptions(screen.getByLabelText('What'), 'export')
  await waitFor(() => expect(requests.at(-1)!.url).toContain('kind=export'))
})

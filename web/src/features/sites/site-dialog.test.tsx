// @vitest-environment jsdom
import { changeSite, listSites } from '@dew-trail/contract/sites'
import { listEngines } from '@dew-trail/contract/sources'
import { screen, within } from '@testing-library/react'
import { expect, test } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import SiteDialog from './SiteDialog.tsx'

const show = () =>
  showScreen(<SiteDialog onClose={() => undefined} />, [
    answer(changeSite, () => ({})),
    answer(listSites, () => []),
    answer(listEngines, () => []),
  ])

/** The button of a field's own form. */
const saveBeside = (field: HTMLElement) => within(field.closest('form')!).getByRole('button', { name: 'Save' })

test('the share of clicks at the first place is given in percent and sent as a share, or taken away', async () => {
  const { user, bodies } = show()
  const field = await screen.findByLabelText('Clicks at the first place, % of searches')
  await user.type(field, '96')
  expect(screen.getByText('A percentage from 1 to 95')).toBeTruthy()
  expect(saveBeside(field)).toHaveProperty('disabled', true)
  await user.clear(field)
  await user.type(field, '32,5')
  await user.click(saveBeside(field))
  expect(await screen.findByText('32.5% of searches count as clicks at the first place, everywhere')).toBeTruthy()
  expect(bodies(changeSite)).toEqual([{ firstShare: 0.325 }])
})

test('what a visit is worth is saved; what is no worth is refused before it is sent', async () => {
  const { user, bodies } = show()
  const field = await screen.findByLabelText('Worth of a visit to you')
  const save = saveBeside(field)
  expect(save).toHaveProperty('disabled', true)
  await user.type(field, '-3')
  expect(screen.getByText('A number above 0')).toBeTruthy()
  expect(save).toHaveProperty('disabled', true)
  await user.clear(field)
  await user.type(field, '0,75')
  await user.click(save)
  expect(await screen.findByText('A visit counts as worth 0.75 everywhere')).toBeTruthy()
  expect(bodies(changeSite)).toEqual([{ visitWorth: 0.75 }])
})

test('of how many months searches are the mean is chosen, and said', async () => {
  const { user, bodies } = show()
  const choices = await screen.findByRole('group', { name: 'Searches are the mean of' })
  expect(within(choices).getByRole('button', { name: '12' }).getAttribute('aria-pressed')).toBe('true')
  await user.click(within(choices).getByRole('button', { name: '3' }))
  expect(await screen.findByText('Searches are the mean of the last 3 known months')).toBeTruthy()
  expect(bodies(changeSite)).toEqual([{ averageMonths: 3 }])
})

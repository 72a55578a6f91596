// @vitest-environment jsdom
import { renewCalendarLink } from '@dew-trail/contract/brief'
import { changePage } from '@dew-trail/contract/plan'
import { screen, waitFor, within } from '@testing-library/react'
import readXlsxFile from 'read-excel-file/node'
import { describe, expect, test } from 'vitest'
import { show } from '../../../test/made-plan.tsx'

describe('the board', () => {
  test('has each page by its state and moves it by keys', async () => {
    const { user, bodies } = show('/1/plan?see=board')
    const writing = await screen.findByRole('region', { name: 'Writing' })
    const card = within(writing).getByRole('button', { name: /Choosing a kiln/ })
    expect(card.textContent).toContain('about 160 more visits/mo')
    card.focus()
    await user.keyboard('{Alt>}{ArrowRight}{/Alt}')
    await waitFor(() => expect(bodies(changePage)).toEqual([{ version: 1, state: 'published' }]))
    expect(screen.getByText('Deadlines kept: 0% of 1')).toBeTruthy()
  })
})

describe('what comes first', () => {
  test('says what is made when, what just missed, what is not compared, and what came of what was published', async () => {
    const { user, bodies } = show('/1/plan?see=first')
    expect(await screen.findAllByText('1,544')).toHaveLength(2)
    const summary = screen.getByRole('region', { name: 'Summary' }).textContent!
    expect(summary).toContain('29% more than the most searched first would bring')
    expect(summary).toContain('No other choice brings more than 0.4% more. One page more a month would add 84.00.')
    expect(screen.getByText('peak Aug, in time')).toBeTruthy()
    expect(screen.getByText('putting it in would cost 84.00')).toBeTruthy()
    expect(await screen.findByText('less than expected')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Make it due Dec 31, 2026: Choosing a kiln' }))
    await waitFor(() => expect(bodies(changePage)).toEqual([{ version: 1, deadline: '2026-12-31' }]))
    await user.click(screen.getByRole('button', { name: 'It must be in: Glazes' }))
    await waitFor(() => expect(bodies(changePage).at(-1)).toEqual({ version: 1, mustBeIn: true }))
  })
})

describe('handing over', () => {
  test('a workbook has an overview and a sheet a page, chosen keywords marked, with the columns that were kept', async () => {
    const { user, saved } = show('/1/plan?see=board')
    await user.click(await screen.findByRole('button', { name: 'Hand over' }))
    const dialog = await screen.findByRole('dialog')
    await user.click(within(dialog).getByRole('checkbox', { name: 'Difficulty' }))
    await user.click(within(dialog).getByRole('button', { name: 'Save as XLSX' }))
    await waitFor(() => expect(saved).toHaveLength(1))
    const bytes = Buffer.from(await saved[0]!.blob.arrayBuffer())
    const sheets = await readXlsxFile(bytes)
    expect(sheets.map(each => each.sheet)).toEqual(['Overview', 'Choosing a kiln', 'Glazes'])
    const page = sheets[1]!.data
    const head = page.findIndex(row => row[0] === 'Keyword')
    expect(page[head]!.slice(0, 8)).toEqual([
      'Keyword',
      'Chosen',
      'Searches a month',
      'Searches of exactly this',
      'Searches in this order',
      'Searches in any order',
      'CPC',
      'Chance of the first page',
    ])
    expect(page[head + 1]!.slice(3, 7)).toEqual([900, 1_500, 1_600, 1.2])
    expect(page.slice(head + 1).map(row => row.slice(0, 3))).toEqual([
      ['kiln price', 'lead', 1_200],
      ['home kiln', 'yes', 500],
      ['kiln for sale', 'no', 90],
    ])
    expect(localStorage.getItem('plan-workbook-left-out')).toBe('["difficulty"]')
  })
  test('the calendar has a secret address that can be renewed', async () => {
    const { user, bodies } = show('/1/plan?see=board')
    await user.click(await screen.findByRole('button', { name: 'Subscribe' }))
    const box = (await screen.findByRole('textbox', { name: 'Secret address to subscribe to' })) as HTMLInputElement
    expect(box.value).toMatch(/^http:\/\/localhost(:\d+)?\/calendar\/abc\.ics$/)
    await user.click(screen.getByRole('button', { name: 'Renew it' }))
    await waitFor(() => expect(bodies(renewCalendarLink)).toEqual([{ end: false }]))
  })
})

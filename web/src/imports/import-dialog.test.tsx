// @vitest-environment jsdom
import { endpoint } from '@dew-trail/contract/endpoint'
import { type ImportKind, runImport, type Uploaded, uploaded, uploadQuery } from '@dew-trail/contract/imports'
import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import { describe, expect, test, vi } from 'vitest'
import { answer, showScreen } from '../../test/show-screen.tsx'
import { ImportDialog } from './ImportDialog.tsx'

const upload = endpoint({
  summary: 'Upload',
  role: 'editor',
  errors: [],
  method: 'POST',
  path: '/api/sites/:siteId/imports',
  input: uploadQuery,
  output: uploaded,
})
const read = (more: Partial<Uploaded> = {}): Uploaded => ({
  importId: 7,
  encoding: 'utf-8',
  headerLine: 1,
  separator: ';',
  header: ['Term', 'Volume', ''],
  preview: [['kiln', '900', 'x']],
  suggested: { phrase: 0 },
  bytes: 40,
  ...more,
})
const show = (kind: ImportKind, given: Uploaded | Error = read()) => {
  const onClose = vi.fn()
  const sent: string[] = []
  const shown = showScreen(<ImportDialog kind={kind} onClose={onClose} />, [
    answer(upload, ({ url }) => {
      sent.push(url)
      return given
    }),
    answer(runImport, () => ({ jobId: 3 })),
  ])
  const bodies = () => shown.requests.filter(({ spec }) => spec === runImport).map(({ body }) => body)
  return { ...shown, onClose, sent, bodies }
}
const choose = async (user: ReturnType<typeof show>['user'], name = 'list.csv') => {
  const input = document.querySelector<HTMLInputElement>('input[type=file]')!
  await user.upload(input, new File(['Term;Volume;\nkiln;900;x\n'], name, { type: 'text/csv' }))
}

describe('importing a file', () => {
  test('the columns that were recognised are filled in, with the first lines beside', async () => {
    const { user, sent, bodies, onClose } = show('keywords')
    await choose(user)
    expect(sent).toEqual(['/api/sites/1/imports?kind=keywords&fileName=list.csv'])
    expect(await screen.findByText(/UTF-8, separated by semicolons/)).toBeTruthy()
    const heads = screen.getAllByRole('columnheader').map(head => head.textContent)
    expect(heads).toEqual([expect.stringContaining('Term'), 'left outVolume', 'left out'])
    expect(screen.getByText('900')).toBeTruthy()
    await user.click(screen.getByLabelText('Keep all of them'))
    await user.click(screen.getByRole('button', { name: 'Import' }))
    expect(bodies()).toEqual([{ marketId: 1, keep: true, mapping: { phrase: 0 } }])
    await waitFor(() => expect(onClose).toHaveBeenCalledOnce())
  })
  test('nothing is imported before a column that is needed has been chosen', async () => {
    const { user, bodies } = show('links', read({ header: ['From', 'To'], preview: [], suggested: { source: 0 } }))
    await choose(user)
    const wanting = await screen.findByRole('button', { name: /^Choose the column of/ })
    expect(wanting).toHaveProperty('disabled', true)
    await user.click(within(document.body).getAllByRole('combobox')[1]!)
    await user.click(await screen.findByRole('option', { name: 'To' }))
    await user.click(await screen.findByRole('button', { name: 'Import' }))
    expect(bodies()).toMatchObject([{ mapping: { source: 0, target: 1 } }])
  })
  test('a query log without days is asked from which day to which it is', async () => {
    const header = ['Query', 'Clicks', 'Impressions', 'Position']
    const suggested = { phrase: 0, clicks: 1, impressions: 2, position: 3 }
    const { user, bodies } = show('log', read({ header, preview: [], suggested }))
    await choose(user)
    const wanting = await screen.findByRole('button', { name: 'Say from which day to which' })
    expect(wanting).toHaveProperty('disabled', true)
    fireEvent.change(screen.getByLabelText('from'), { target: { value: '2026-09-01' } })
    fireEvent.change(screen.getByLabelText('to'), { target: { value: '2026-08-01' } })
    expect(screen.getByRole('button', { name: 'Say from which day to which' })).toHaveProperty('disabled', true)
    fireEvent.change(screen.getByLabelText('to'), { target: { value: '2026-10-31' } })
    await user.click(screen.getByRole('button', { name: 'Import' }))
    expect(bodies()).toEqual([
      { marketId: 1, keep: false, mapping: suggested, period: { from: '2026-09-01', to: '2026-10-31' } },
    ])
  })
  test('a file that cannot be read is told about, and another can be chosen', async () => {
    const { user } = show('positions', new Error('The file is empty'))
    await choose(user, 'empty.csv')
    expect((await screen.findByRole('alert')).textContent).toBe('The file is empty')
    expect(screen.getByRole('button', { name: 'Choose files' })).toHaveProperty('disabled', false)
  })
  test('several files go by one choice where their columns are the same, those with others come after', async () => {
    const other = read({ importId: 9, header: ['Day', 'Place'], preview: [], suggested: { phrase: 0 } })
    const onClose = vi.fn()
    let at = 0
    const given = [read(), read({ importId: 8 }), new Error('The file is empty'), other]
    const { user, requests } = showScreen(<ImportDialog kind="keywords" onClose={onClose} />, [
      answer(upload, () => given[at++]!),
      answer(runImport, () => ({ jobId: 3 })),
    ])
    const input = document.querySelector<HTMLInputElement>('input[type=file]')!
    await user.upload(
      input,
      ['a.csv', 'b.csv', 'empty.csv', 'c.csv'].map(name => new File(['x'], name, { type: 'text/csv' })),
    )
    expect((await screen.findByText('2 files')).closest('p')!.textContent).toBe(
      '2 files with these columns; then 1 file with others.',
    )
    expect(screen.getByRole('alert').textContent).toBe('empty.csv: The file is empty')
    await user.click(screen.getByRole('button', { name: 'Import' }))
    expect(await screen.findByText('The imports of 2 files have started; the foot shows how far they are')).toBeTruthy()
    expect(await screen.findAllByText('Day')).not.toHaveLength(0)
    expect(onClose).not.toHaveBeenCalled()
    await user.click(screen.getByRole('button', { name: 'Import' }))
    await waitFor(() => expect(onClose).toHaveBeenCalledOnce())
    expect(requests.filter(({ spec }) => spec === runImport).map(({ url }) => url)).toEqual(
      [7, 8, 9].map(importId => expect.stringContaining(`/imports/${importId}/`)),
    )
  })
  test('pasted keywords are sent as a file, only where keywords are wanted', async () => {
    const { user, sent } = show('keywords')
    const go = screen.getByRole('button', { name: 'Go on with these' })
    expect(go).toHaveProperty('disabled', true)
    await user.type(screen.getByLabelText('Keywords, one a line'), 'kiln "small"{Enter}{Enter}wheel')
    await user.click(go)
    await screen.findByText(/separated by/)
    expect(sent[0]).toContain('fileName=pasted.csv')
    await user.click(screen.getByRole('button', { name: 'Another file' }))
    // What was typed is not lost.
    expect(screen.getByLabelText('Keywords, one a line')).toHaveProperty('value', 'kiln "small"\n\nwheel')
  })
  test('lists of links cannot be pasted', () => {
    show('links')
    expect(screen.queryByLabelText('Keywords, one a line')).toBeNull()
  })
})

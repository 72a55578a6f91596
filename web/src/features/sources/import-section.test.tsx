// @vitest-environment jsdom
import { takeBackImport } from '@dew-trail/contract/imports'
import { listImports } from '@dew-trail/contract/sources'
import { screen } from '@testing-library/react'
import { expect, test, vi } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import { ImportSection } from './ImportSection.tsx'

const file = (id: number, more: object) => ({
  id,
  kind: 'keywords' as const,
  fileName: `file-${id}.csv`,
  createdAt: '2026-11-20T10:00:00.000Z',
  ran: true,
  reading: false,
  errors: 0,
  brought: null,
  canTakeBack: true,
  takenBack: false,
  ...more,
})

test('each file says what it alone brought and can be taken back or put back; what runs as a job says so', async () => {
  const files = [
    file(5, { kind: 'pages', reading: true }),
    file(4, { kind: 'log', errors: 1 }),
    file(3, { brought: 1_200 }),
    file(2, { kind: 'links', takenBack: true }),
    file(1, { brought: 0, canTakeBack: false }),
  ]
  const { user, bodies } = showScreen(<ImportSection onImport={vi.fn()} />, [
    answer(listImports, () => files),
    answer(takeBackImport, () => ({ keywords: null, jobId: 9, actId: null })),
  ])
  await screen.findByText('file-4.csv')
  expect(screen.getAllByRole('row').map(row => row.textContent)).toEqual([
    'file-5.csvPages of an archiveNov 20, 2026being read',
    'file-4.csvQuery logNov 20, 2026Take back1 line not imported',
    'file-3.csvKeywordsNov 20, 2026brought 1,200 keywords alone Take backevery line imported',
    'file-2.csvLinksNov 20, 2026Put backevery line imported',
    'file-1.csvKeywordsNov 20, 2026brought no keyword aloneevery line imported',
  ])
  await user.click(screen.getByRole('button', { name: 'Take back file-4.csv' }))
  expect(await screen.findByText('Taking back file-4.csv')).toBeTruthy()
  await user.click(screen.getByRole('button', { name: 'Put back file-2.csv' }))
  expect(bodies(takeBackImport)).toEqual([{ on: true }, { on: false }])
})

// @vitest-environment jsdom
import { type Health, readHealth } from '@dew-trail/contract/health'
import { AppError } from '@dew-trail/contract/errors'
import { listSites } from '@dew-trail/contract/sites'
import { screen, waitFor } from '@testing-library/react'
import { describe, expect, test } from 'vitest'
import { answer, showScreen } from '../../test/show-screen.tsx'
import { call } from '../api/call.ts'
import { HealthLine } from './HealthLine.tsx'

const show = (health: Health) => showScreen(<HealthLine />, [answer(readHealth, () => health)])
const well: Health = { ready: true, databaseAwaySince: null, disk: { freeMb: 80_000, low: false } }

describe('how the server is', () => {
  test('says nothing while all is well', async () => {
    const { requests } = show(well)
    await waitFor(() => expect(requests).toHaveLength(1))
    expect(screen.queryByRole('alert')).toBeNull()
  })
  test('says since when the database is away, and that what is changed now is not saved', async () => {
    show({ ...well, ready: false, databaseAwaySince: '2026-11-29T10:02:00Z' })
    expect((await screen.findByRole('alert')).textContent).toMatch(/has not answered since \d.*is not saved/)
  })
  test('is asked at once when something is refused because the database is away', async () => {
    let health = well
    showScreen(<HealthLine />, [
      answer(readHealth, () => health),
      answer(listSites, () => new AppError('databaseAway', 'The database does not answer')),
    ])
    await waitFor(() => expect(screen.queryByRole('alert')).toBeNull())
    health = { ...well, ready: false, databaseAwaySince: '2026-11-29T10:02:00Z' }
    await expect(call(listSites, {})).rejects.toMatchObject({ code: 'databaseAway' })
    expect((await screen.findByRole('alert')).textContent).toContain('has not answered since')
  })
  test('says how much room the disk has left', async () => {
    show({ ...well, disk: { freeMb: 812, low: true } })
    expect((await screen.findByRole('alert')).textContent).toContain('Only 812 MB are free')
  })
})

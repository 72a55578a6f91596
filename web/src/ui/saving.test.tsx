// @vitest-environment jsdom
import { QueryClientProvider } from '@tanstack/react-query'
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { makeClient } from '../api/make-client.ts'
import { ActButton } from './ActButton.tsx'
import { Saving } from './Saving.tsx'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => {
  cleanup()
  vi.useRealTimers()
  vi.restoreAllMocks()
})

const pass = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms))

function showButton(work: () => Promise<void>): HTMLButtonElement {
  render(
    <QueryClientProvider client={makeClient({ retry: false })}>
      <ActButton onAct={work}>Keep</ActButton>
      <Saving />
    </QueryClientProvider>,
  )
  return screen.getByRole('button', { name: 'Keep' })
}

test('a change that takes long is said to be under way, a short one is not, and its button waits', async () => {
  let finish = () => undefined as void
  const button = showButton(() => new Promise(resolve => (finish = resolve)))
  expect(screen.getByRole('status').textContent).toBe('')
  fireEvent.click(button)
  await pass(300)
  expect(button.disabled).toBe(true)
  expect(screen.getByRole('status').textContent).toBe('')
  await pass(500)
  expect(screen.getByRole('status').textContent).toBe('Saving…')
  await act(async () => finish())
  await pass(0)
  expect(button.disabled).toBe(false)
  expect(screen.getByRole('status').textContent).toBe('')
})

test('a change is not held back because the browser has no network: the server may be this machine', async () => {
  vi.spyOn(navigator, 'onLine', 'get').mockReturnValue(false)
  window.dispatchEvent(new Event('offline'))
  const work = vi.fn(async () => undefined)
  fireEvent.click(showButton(work))
  await pass(10)
  expect(work).toHaveBeenCalledOnce()
  window.dispatchEvent(new Event('online'))
})

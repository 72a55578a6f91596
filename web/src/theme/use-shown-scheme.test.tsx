// @vitest-environment jsdom
import { act, render, screen } from '@testing-library/react'
import { expect, test } from 'vitest'
import { useShownScheme } from './use-shown-scheme.ts'

function Shown() {
  return <p>{useShownScheme()}</p>
}

test('tells the scheme of the document as soon as that changes, and not before', async () => {
  document.documentElement.setAttribute('data-scheme', 'light')
  render(<Shown />)
  expect(screen.getByText('light')).toBeTruthy()
  await act(async () => {
    document.documentElement.setAttribute('data-scheme', 'dark')
    await Promise.resolve()
  })
  expect(screen.getByText('dark')).toBeTruthy()
})

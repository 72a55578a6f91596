// @vitest-environment jsdom
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { screen } from '@testing-library/react'
import { describe, expect, test, vi } from 'vitest'
import { showScreen } from '../../test/show-screen.tsx'
import { features, screenHelp } from '../features.ts'
import { wordsOf } from './glossary-words.ts'
import { Help, helpAt } from './Help.tsx'
import { helpContext } from './registry.ts'

const show = (path: string) =>
  showScreen(
    <helpContext.Provider value={screenHelp}>
      <Help onClose={vi.fn()} />
    </helpContext.Provider>,
    [],
    path,
  )

describe('help', () => {
  test('every screen that navigation leads to has its own, and every part of a screen is told of', async () => {
    const all = await screenHelp()
    const paths = features.flatMap(each => (each.destinations ?? []).map(({ path }) => path))
    expect(paths.filter(path => !all.some(each => each.path === path))).toEqual([])
    for (const { parts, tabs } of all) expect(Object.keys(parts ?? {})).toEqual(Object.keys(tabs ?? {}))
  })
  test('of a screen below another is its own', async () => {
    const all = await screenHelp()
    expect(helpAt(all, 'weigh/page/4')?.title).toBe('A first page')
    expect(helpAt(all, 'weigh')?.title).toBe('Weigh')
    expect(helpAt(all, 'weighty')).toBeUndefined()
  })
  test('says what the screen is for, leads to its parts and tells our words', async () => {
    const { user } = show('/1/track?see=voice')
    expect(await screen.findByRole('heading', { name: 'Track' })).toBeTruthy()
    const voice = screen.getByRole('link', { name: 'Share of voice' })
    expect(voice.getAttribute('aria-current')).toBe('page')
    expect(screen.getByRole('link', { name: 'Alerts' }).getAttribute('href')).toBe('/1/track?see=alerts&market=1')
    await user.click(screen.getByText('Words of this program'))
    expect(screen.getByText('the strengths of the results of a first page in order, drawn as a profile')).toBeTruthy()
  })
})

test('all words of the glossary are read', () => {
  const text = readFileSync(join(import.meta.dirname, '../../../docs/glossary.md'), 'utf8')
  const words = wordsOf(text)
  expect(words).toHaveLength(text.split('\n').filter(line => line.startsWith('| **')).length)
  expect(words.find(each => each.word === 'keep, let go')?.meaning).toContain('put it back among those found')
})

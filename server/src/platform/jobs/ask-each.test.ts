import { expect, test } from 'vitest'
import { SourceError } from '../outside/source-error.ts'
import { askEach } from './ask-each.ts'

test('what is refused is warned of, the rest goes on; a quota that ends stops what was not begun', async () => {
  const warned: string[] = []
  const control = { warn: (what: string) => void warned.push(what) }
  const refused: number[] = []
  const asked: number[] = []
  const ask = async (thing: number) => {
    asked.push(thing)
    if (thing === 2) throw new SourceError('The engine', 'badReply', 'it gave HTML', false)
    if (thing === 5) throw new SourceError('The engine', 'quotaUsed', 'no more today', true)
  }
  expect(await askEach(control, [1, 2, 3], 2, ask, thing => refused.push(thing))).toBeUndefined()
  expect([asked, refused, warned]).toEqual([[1, 2, 3], [2], ['it gave HTML']])
  const halted = await askEach(control, [4, 5, 6, 7], 1, ask, thing => refused.push(thing))
  expect((halted as Error).message).toBe('no more today')
  expect([asked, refused]).toEqual([[1, 2, 3, 4, 5], [2]])
})

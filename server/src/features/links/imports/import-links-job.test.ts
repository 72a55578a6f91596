import { AppError } from '@dew-trail/contract/errors'
import { expect, test } from 'vitest'
import { partsUntilBroken } from './import-links-job.ts'
import type { OpenImport } from '../../../domain/imports/open-import.ts'

type Part = Awaited<ReturnType<ReturnType<OpenImport['parts']>['next']>>['value']
const part: Part = {
  kind: 'rows',
  rows: [['https://a.example/', 'https://b.example/']],
  lines: [2],
  problems: [],
  byte: 60,
}

/** How many parts came of a file that gives `whole` ones and then fails, and what was listed. */
async function read(whole: number, error: Error): Promise<{ parts: number; warnings: string[] }> {
  const warnings: string[] = []
  let parts = 0
  const file: Parameters<typeof partsUntilBroken>[0] = {
    say: (line, what) => void warnings.push(`${line} ${what}`),
    async *parts() {
      for (let i = 0; i < whole; i++) yield part
      throw error
    },
  }
  for await (const _ of partsUntilBroken(file, () => parts + 2)) parts++
  return { parts, warnings }
}
const slow = new AppError('tooLarge', 'The file takes longer than 30 seconds to read')

test('a bound that is passed in the middle ends the parts and is listed with its line', async () => {
  expect(await read(3, slow)).toEqual({
    parts: 3,
    warnings: ['5 The file takes longer than 30 seconds to read. Nothing from here on was read'],
  })
})

test('a file of which nothing can be read fails, and so does what is no fault of the file', async () => {
  await expect(read(0, slow)).rejects.toBe(slow)
  const cancelled = new DOMException('cancelled', 'AbortError')
  await expect(read(3, cancelled)).rejects.toBe(cancelled)
})

import { expect, test } from 'vitest'
import { HeldRows } from './held-rows.ts'
import type { FromWorker } from './worker-messages.ts'

test('rows that take the place of others are another list, so that sums are asked for again', () => {
  const versions: string[] = []
  const held = new HeldRows((message: FromWorker) => {
    if (message.type === 'window') versions.push(`${message.listVersion} ${message.count}`)
  })
  held.receive({ type: 'open', specs: [{ key: 'searches', kind: 'number' }], always: [], onceBy: null })
  held.receive({ type: 'query', sequence: 1, query: { where: [], sort: [] }, from: 0, to: 10 })
  const put = (...searches: number[]) =>
    held.receive({
      type: 'put',
      clear: true,
      batch: { ids: searches.map((_, i) => i + 1), columns: { searches } },
    })
  put(1, 2)
  put(3, 4)
  put(5)
  expect(versions.map(each => each.split(' ')[1])).toEqual(['0', '2', '2', '1'])
  expect(new Set(versions.map(each => each.split(' ')[0])).size).toBe(4)
})

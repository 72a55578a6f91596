import { beforeEach, expect, test } from 'vitest'
import type { LinkBatches } from './link-batches.ts'
import type { LinkRest } from '../../../domain/graph/link-lines.ts'
import { PlainLine } from '../../../platform/files/plain-line.ts'
import { PlainLinks } from './plain-links.ts'

type Added = { target: string; source: string; anchor: string; rel: number; rest: string }
let added: Added[]
let requests: string[]
let names: string[]
/** Stands for the batches: places are numbers of names; every third link completes a batch, and `newEpoch` voids the places. */
const fakeBatches = (newEpoch: boolean) => {
  const positionOf = (name: string): number => (names.includes(name) ? names.indexOf(name) : names.push(name) - 1)
  const batches = {
    epoch: 0,
    book: {
      pageAt: positionOf,
      anchorAt: positionOf,
      findPage: (bytes: Buffer, from: number, to: number) => names.indexOf(bytes.toString('utf8', from, to)),
    },
    addPlaced(target: number, source: number, anchor: number, { rel, fields }: LinkRest) {
      added.push({ target: names[target]!, source: names[source]!, anchor: names[anchor]!, rel, rest: String(fields) })
      if (added.length % 3) return undefined
      return Promise.resolve().then(() => {
        if (!newEpoch) return
        names = []
        batches.epoch++
      })
    },
  }
  return batches
}
beforeEach(() => {
  added = []
  requests = []
  names = []
})
const reader = (newEpoch = false): PlainLinks =>
  new PlainLinks(
    fakeBatches(newEpoch) as unknown as LinkBatches,
    { source: 1, target: 0, anchor: 2, rel: 3, linkKind: undefined, firstSeen: 4, lastSeen: undefined },
    new PlainLine(';', 'utf-8'),
    {
      address(text) {
        requests.push(text)
        return text.includes('.') ? `https://${text}/` : null
      },
      anchor: text => text.toLowerCase(),
      rest: ({ rel, kind, firstSeen, lastSeen }) =>
        firstSeen === 'never'
          ? null
          : {
              rel: rel ? 1 : 0,
              first: null,
              last: null,
              fields: Buffer.from([rel, kind, firstSeen, lastSeen].join('|')),
            },
    },
  )
const read = async (text: string, links = reader()) => {
  const odd: string[] = []
  const lines = await links.read(Buffer.from(text), async (line, number) => {
    odd.push(`${number} ${line}`)
  })
  return { odd, lines, links: links.lines }
}

test('links are read from bytes, cells that a row lacks are empty', async () => {
  const outcome = await read('a.example;b.example;Töpfe;nofollow;2026\r\n\na.example; c.example ;Töpfe\n')
  expect(outcome).toEqual({ odd: [], lines: 3, links: 2 })
  expect(added).toEqual([
    { target: 'https://a.example/', source: 'https://b.example/', anchor: 'töpfe', rel: 1, rest: 'nofollow||2026|' },
    { target: 'https://a.example/', source: 'https://c.example/', anchor: 'töpfe', rel: 0, rest: '|||' },
  ])
  expect(requests).toEqual(['b.example', 'a.example', 'c.example'])
})

test('lines with something wrong are handed back each time, with their number', async () => {
  const wide = `a.example;b.example${';'.repeat(300)}`
  const outcome = await read(
    `nowhere;b.example;x\na.example;b.example;x;;never\na.example\nnowhere;b.example;x\n${wide}\n`,
  )
  expect(outcome.odd).toEqual([
    '0 nowhere;b.example;x',
    '1 a.example;b.example;x;;never',
    '2 a.example',
    '3 nowhere;b.example;x',
    `4 ${wide}`,
  ])
  expect(outcome).toMatchObject({ lines: 5, links: 0 })
  expect(added).toEqual([])
})

test.each([false, true])('names are right when the book begins anew after a batch (%s)', async newEpoch => {
  const lines = Array.from({ length: 40 }, (_, i) => `t${i % 3}.example;s${i % 7}.example;a${i % 5}`)
  await read(`${lines.join('\n')}\n`, reader(newEpoch))
  expect(added.map(({ target, source, anchor }) => `${target} ${source} ${anchor}`)).toEqual(
    lines.map(line => {
      const [target, source, anchor] = line.split(';')
      return `https://${target}/ https://${source}/ ${anchor}`
    }),
  )
})

import { describe, expect, test } from 'vitest'
import { type Condition, packBatch, resolveLimits, type Sort } from './column-spec.ts'
import { ColumnStore } from './column-store.ts'
import { conditionText, readCondition, readSort, sortText } from './condition-text.ts'
import { filterRows, maskRows, sumMask } from './filter-rows.ts'
import { pickFirstRows, pickRows, sortedRows } from './sort-rows.ts'
import { countCodes, sumRows } from './sum-rows.ts'

type Plain = {
  id: number
  phrase: string
  searches: number | null
  kind: string | null
  kept: boolean
  months: Array<number | null> | null
  ways: string
}
let seed = 11
const random = (below: number): number => (seed = (seed * 48271) % 2147483647) % below
const words = ['kiln', 'wheel', 'clay', 'glaze', 'home', 'small', 'a', 'kilns', 'best', 'für']
const makeRows = (count: number): Plain[] =>
  Array.from({ length: count }, (_, id) => ({
    id: id * 3,
    phrase: `${Array.from({ length: 1 + random(4) }, () => words[random(words.length)]).join(' ')} ${id}`,
    searches: random(4) ? random(50) : null,
    kind: [null, 'question', 'related', 'comparison'][random(4)]!,
    kept: random(2) === 1,
    months: random(5) ? [random(9), random(3) ? random(9) : null] : null,
    ways: ['ads', 'ads|completions', 'related', ''][random(4)]!,
  }))
const fill = (rows: Plain[]): ColumnStore => {
  const store = new ColumnStore([
    { key: 'phrase', kind: 'text' },
    { key: 'searches', kind: 'number' },
    { key: 'kind', kind: 'code' },
    { key: 'kept', kind: 'flag' },
    { key: 'months', kind: 'series', length: 2 },
    { key: 'ways', kind: 'code' },
  ])
  for (let at = 0; at < rows.length; at += 700) {
    const part = rows.slice(at, at + 700)
    store.upsert({
      ids: part.map(row => row.id),
      columns: {
        phrase: part.map(row => row.phrase),
        searches: part.map(row => row.searches),
        kind: part.map(row => row.kind),
        kept: part.map(row => row.kept),
        months: part.map(row => row.months),
        ways: part.map(row => row.ways),
      },
    })
  }
  return store
}

/** The slow obvious filter that the fast one must agree with. */
function meets(row: Plain, condition: Condition): boolean {
  const value = row[condition.column as keyof Plain]
  const parts = row.phrase.split(' ')
  switch (condition.op) {
    case 'from':
      return value !== null && (value as number) >= condition.value
    case 'to':
      return value !== null && (value as number) <= condition.value
    case 'has':
      return condition.value.startsWith('"')
        ? ` ${row.phrase} `.includes(` ${condition.value.slice(1, -1)} `)
        : condition.value.split(' or ').some(words => words.split(' ').every(word => row.phrase.includes(word)))
    case 'without':
      return condition.value.startsWith('"')
        ? !parts.includes(condition.value.slice(1, -1))
        : condition.value.trim() === '' ||
            !condition.value
              .trim()
              .split(' ')
              .some(part => row.phrase.includes(part))
    case 'is':
      return condition.value.includes(value as string)
    case 'not':
      return !condition.value.includes(value as string)
    case 'any':
      return String(value ?? '')
        .split('|')
        .some(each => condition.value.includes(each))
    case 'known':
      return value !== null && value !== ''
    case 'unknown':
      return value === null || value === ''
    case 'yes':
      return value === true
    case 'no':
      return value === false
    case 'within':
      throw new TypeError('limits are put in numbers first')
  }
}
const pool: Condition[] = [
  { column: 'searches', op: 'from', value: 20 },
  { column: 'searches', op: 'to', value: 30 },
  { column: 'searches', op: 'unknown' },
  { column: 'searches', op: 'known' },
  { column: 'phrase', op: 'has', value: 'kil' },
  { column: 'phrase', op: 'has', value: 'clay ki' },
  { column: 'phrase', op: 'has', value: 'ki clay' },
  { column: 'phrase', op: 'has', value: 'home or glaze' },
  { column: 'phrase', op: 'has', value: '"clay kiln"' },
  { column: 'phrase', op: 'has', value: '"kiln"' },
  { column: 'phrase', op: 'has', value: '' },
  { column: 'phrase', op: 'without', value: 'home glaze' },
  { column: 'phrase', op: 'without', value: '"a"' },
  { column: 'kind', op: 'is', value: ['question', 'related'] },
  { column: 'kind', op: 'not', value: ['question'] },
  { column: 'kind', op: 'unknown' },
  { column: 'kept', op: 'yes' },
  { column: 'kept', op: 'no' },
  { column: 'ways', op: 'any', value: ['completions'] },
]

describe('conditions', () => {
  const rows = makeRows(2_500)
  const store = fill(rows)
  test('every one alone, and any three together, keep what the slow filter keeps', () => {
    const sets = [
      ...pool.map(condition => [condition]),
      ...Array.from({ length: 80 }, () => [
        pool[random(pool.length)]!,
        pool[random(pool.length)]!,
        pool[random(pool.length)]!,
      ]),
    ]
    for (const where of sets)
      expect(Array.from(filterRows(store, where), row => store.ids[row])).toEqual(
        rows.filter(row => where.every(condition => meets(row, condition))).map(row => row.id),
      )
  })
  test('conditions in two goes keep what they keep in one, and the first go is not changed', () => {
    for (let i = 0; i < 60; i++) {
      const [first, second] = [pool[random(pool.length)]!, pool[random(pool.length)]!]
      const mask = maskRows(store, [first])
      const before = [...mask]
      expect([...maskRows(store, [second], mask)]).toEqual([...maskRows(store, [first, second])])
      expect([...mask]).toEqual(before)
    }
  })
  test('a condition on a column that is not there, or of the wrong kind, is an error', () => {
    expect(() => filterRows(store, [{ column: 'nothing', op: 'known' }])).toThrow('there is no column "nothing"')
    expect(() => filterRows(store, [{ column: 'phrase', op: 'from', value: 1 }])).toThrow(TypeError)
  })
  test('words of the shown rows are counted once a row', () => {
    const text = store.columns.get('phrase')!
    if (text.kind !== 'text') throw new Error('phrase is text')
    const shown = filterRows(store, [{ column: 'kept', op: 'yes' }])
    const counts = new Map<string, number>()
    for (const row of rows.filter(each => each.kept))
      for (const word of new Set(row.phrase.split(' '))) counts.set(word, (counts.get(word) ?? 0) + 1)
    for (const { word, rows: count } of text.index.count(shown, 12)) expect(count).toBe(counts.get(word))
  })
})

describe('order', () => {
  const rows = makeRows(900)
  const store = fill(rows)
  const compare = (a: Plain, b: Plain, sort: Sort[]): number => {
    for (const { column, down } of sort) {
      const [x, y] = [
        a[column as keyof Plain] as number | string | boolean | null,
        b[column as keyof Plain] as number | string | boolean | null,
      ]
      const [emptyX, emptyY] = [x === null || x === '', y === null || y === '']
      if (emptyX || emptyY) {
        if (emptyX !== emptyY) return emptyX ? 1 : -1
        continue
      }
      if (x !== y) return (x! < y! ? -1 : 1) * (down ? -1 : 1)
    }
    return a.id - b.id
  }
  test.each([['searches'], ['-searches'], ['phrase'], ['-phrase'], ['kind,-searches'], ['-kept,kind,phrase'], ['']])(
    'by %s as a slow sort has it, unknown last both ways',
    text => {
      const sort = readSort(text)
      expect(Array.from(sortedRows(store, sort), row => store.ids[row])).toEqual(
        [...rows].sort((a, b) => compare(a, b, sort)).map(row => row.id),
      )
    },
  )
  test('picking keeps the order', () => {
    const order = sortedRows(store, [{ column: 'searches', down: true }])
    const mask = maskRows(store, [{ column: 'kept', op: 'yes' }])
    expect([...pickRows(order, mask)]).toEqual([...order].filter(row => mask[row]))
  })
})

describe('store', () => {
  test('a row changes in place, keeps what is not named, and its text stays', () => {
    const store = fill(makeRows(3))
    const version = store.version
    store.upsert({ ids: [3, 99], columns: { searches: [7, null] } })
    expect(store.version).toBeGreaterThan(version)
    expect(store.count).toBe(4)
    expect(store.cell(store.rowOf(3)!, 'searches')).toBe(7)
    expect(store.cell(store.rowOf(99)!, 'searches')).toBeNull()
    expect(store.cell(store.rowOf(99)!, 'kind')).toBeNull()
    expect(() => store.upsert({ ids: [3], columns: { phrase: ['another'] } })).toThrow(/does not change/)
    expect(() => store.upsert({ ids: [1, 2], columns: { searches: [1] } })).toThrow(/1 values for 2 rows/)
    expect(() => store.upsert({ ids: [1], columns: { nothing: [1] } })).toThrow(/no column/)
  })
  test('cells come back as they went in', () => {
    const rows = makeRows(1_500)
    const store = fill(rows)
    for (const row of rows) {
      const { ways, ...rest } = row
      expect(store.row(store.rowOf(row.id)!)).toMatchObject({
        ...rest,
        months: row.months ?? [null, null],
        ways: ways || null,
      })
    }
  })
})

describe('sums', () => {
  const store = fill(
    [1, 2, 3, 4, 5].map(n => ({
      id: n,
      phrase: `p ${n}`,
      searches: n === 3 ? null : n * 10,
      kind: n > 3 ? 'question' : null,
      kept: false,
      months: null,
      ways: '',
    })),
  )
  const all = filterRows(store, [])
  test('unknown is counted apart and added nowhere', () =>
    expect(sumRows(store, all, 'searches')).toEqual({
      known: 4,
      unknown: 1,
      repeats: 0,
      sum: 120,
      mean: 30,
      median: 30,
      min: 10,
      max: 50,
    }))
  test('nothing known has no mean', () =>
    expect(sumRows(store, all.slice(2, 3), 'searches')).toMatchObject({
      known: 0,
      unknown: 1,
      repeats: 0,
      mean: null,
      median: null,
    }))
  test('codes are counted, unknown under an empty name', () =>
    expect(countCodes(store, all, 'kind')).toEqual({ '': 3, question: 2 }))
})

describe('text forms', () => {
  test('conditions and orders come back from an address', () => {
    for (const condition of pool.filter(each => !('value' in each) || each.value !== ''))
      expect(readCondition(conditionText(condition))).toEqual(condition)
    expect(readCondition('phrase:has:ratio 2:1')).toEqual({ column: 'phrase', op: 'has', value: 'ratio 2:1' })
    const sort: Sort[] = [
      { column: 'worth', down: true },
      { column: 'phrase', down: false },
    ]
    expect(readSort(sortText(sort))).toEqual(sort)
  })
  test.each(['', 'searches', 'searches:from:', 'searches:from:abc', 'searches:around:3', ':from:3'])(
    '%j is no condition',
    text => expect(readCondition(text)).toBeNull(),
  )
})

describe('batches and limits', () => {
  test('a packed batch fills the same rows as the whole one', () => {
    const specs = [
      { key: 'phrase', kind: 'text' },
      { key: 'searches', kind: 'number' },
      { key: 'kind', kind: 'code' },
      { key: 'kept', kind: 'flag' },
      { key: 'months', kind: 'series', length: 2 },
    ] as const
    const batch = {
      ids: [1, 2, 3],
      columns: {
        phrase: ['a', 'b', 'c'],
        searches: [null, null, null],
        kind: ['question', 'question', 'question'],
        kept: [false, true, false],
        months: [[1, 2], null, [3, 4]],
      },
    }
    const packed = packBatch(batch)
    expect(Object.keys(packed.columns)).toEqual(['phrase', 'kept', 'months'])
    const [whole, small] = [batch, packed].map(each => {
      const store = new ColumnStore(specs)
      store.upsert({
        ids: [1],
        columns: { phrase: ['a'], searches: [9], kind: ['other'], kept: [true], months: [[7, 8]] },
      })
      store.upsert(each)
      return [0, 1, 2].map(row => store.row(row))
    })
    expect(small).toEqual(whole)
  })
  test('named limits become numbers; one that is not known lets nothing through', () => {
    const where = [{ column: 'difficulty', op: 'within', value: 'stretch' }] as const
    expect(resolveLimits(where, { stretch: 42 })).toEqual([{ column: 'difficulty', op: 'to', value: 42 }])
    expect(resolveLimits(where, { stretch: null })).toEqual([
      { column: 'difficulty', op: 'to', value: Number.NEGATIVE_INFINITY },
    ])
    expect(readCondition('difficulty:within:stretch')).toEqual(where[0])
    const store = new ColumnStore([{ key: 'difficulty', kind: 'number' }])
    expect(() => filterRows(store, where)).toThrow(TypeError)
  })
})

describe('a screenful of an order', () => {
  test('the first rows that a mask keeps are those that all of them begin with', () => {
    const order = Uint32Array.from([5, 3, 0, 4, 1, 2])
    const mask = Uint8Array.from([1, 0, 1, 1, 0, 1])
    const all = [...pickRows(order, mask)]
    expect(all).toEqual([5, 3, 0, 2])
    for (let most = 0; most <= 7; most++) expect([...pickFirstRows(order, mask, most)]).toEqual(all.slice(0, most))
    expect(sumMask(mask)).toBe(all.length)
  })
  const phrases = [
    'how to clean a kiln',
    'kilns to clean',
    'potters wheel',
    'pottery (used)',
    'kiln: clean',
    'a.b kiln',
  ]
  test.each([
    ['clean kiln', [0, 1, 4]],
    ['"clean a kiln"', [0]],
    ['"a kiln"', [0]],
    ['"kiln clean"', [4]],
    ['pott*', [2, 3]],
    ['*eel', [2]],
    ['"clean * kiln"', [0]],
    ['kilns or wheel', [1, 2]],
    ['clean "to clean" or used', [0, 1, 3]],
    ['or', [0, 1, 2, 3, 4, 5]],
    ['"', [0, 1, 2, 3, 4, 5]],
    ['*', [0, 1, 2, 3, 4, 5]],
    ['a.b', [5]],
    ['"a.b"', [5]],
    ['a.b*', [5]],
  ])('%s is found in %j', (value, rows) => {
    const store = new ColumnStore([{ key: 'phrase', kind: 'text' }])
    store.upsert({ ids: phrases.map((_, i) => i + 1), columns: { phrase: phrases } })
    expect([...filterRows(store, [{ column: 'phrase', op: 'has', value }])]).toEqual(rows)
    const left = [...filterRows(store, [{ column: 'phrase', op: 'without', value }])]
    if (!value.includes(' ') && rows.length < 6)
      expect(left).toEqual(phrases.map((_, i) => i).filter(i => !rows.includes(i)))
  })
  test('a mask to stay within is left as it was, whatever is asked', () => {
    const store = new ColumnStore([{ key: 'phrase', kind: 'text' }])
    store.upsert({ ids: [1, 2, 3], columns: { phrase: ['pottery wheel', 'wheel kit', 'kiln'] } })
    const within = Uint8Array.from([1, 0, 1])
    const wheel = maskRows(store, [{ column: 'phrase', op: 'has', value: 'wheel' }], within)
    expect([...wheel]).toEqual([1, 0, 0])
    expect([...maskRows(store, [{ column: 'phrase', op: 'without', value: 'wheel' }], within)]).toEqual([0, 0, 1])
    const untouched = maskRows(store, [], within)
    untouched.fill(0)
    expect([...within]).toEqual([1, 0, 1])
  })
})

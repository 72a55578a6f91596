import { expect, test } from 'vitest'
import { storableJson, storableText } from './storable-text.ts'

test.each([
  ['kiln', 'kiln'],
  ['a\u0000b\u0000', 'ab'],
  ['x\ud800y', 'x\ufffdy'],
  ['\udc00', '\ufffd'],
  ['\ud83d\ude00 \ud83d', '\ud83d\ude00 \ufffd'],
  ['', ''],
])('%j is stored as %j', (from, to) => expect(storableText(from)).toBe(to))

test('JSON keeps everything but what the database refuses', () => {
  const value = { a: 'x\u0000y', 'k\u0000': ['\ud800', '\ud83d\ude00', '\\u0000', '\\\\u0000 "', '\ude00'], n: 1 }
  expect(JSON.parse(storableJson(JSON.stringify(value)))).toEqual({
    a: 'xy',
    k: ['\ufffd', '\ud83d\ude00', '\\u0000', '\\\\u0000 "', '\ufffd'],
    n: 1,
  })
  const plain = JSON.stringify({ a: 'Größe', b: 'ud800' })
  expect(storableJson(plain)).toBe(plain)
})

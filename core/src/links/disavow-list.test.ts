import { expect, test } from 'vitest'
import { readDisavowList, writeDisavowList } from './disavow-list.ts'

test('what is written is read again', () => {
  const domains = ['spam.example', 'more-spam.example']
  expect(readDisavowList(writeDisavowList(domains))).toEqual({ domains, wrong: [] })
  expect(writeDisavowList([])).toBe('')
})

test('remarks and empty lines are nothing, pages are their sites, and what is no site is told with its line', () => {
  const text =
    '\ufeff# made by hand\r\ndomain: Spam.example\r\n\r\nhttps://www.spam.example/page?x=1\rhttp://other.example/a\n???\ndomain:\n'
  expect(readDisavowList(text)).toEqual({
    domains: ['spam.example', 'other.example'],
    wrong: [
      { line: 6, text: '???' },
      { line: 7, text: 'domain:' },
    ],
  })
})

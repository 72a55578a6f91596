import { expect, test } from 'vitest'
import { readSitemap } from './read-sitemap.ts'

test('a sitemap of plain lines gives its addresses and passes over what is none', () => {
  expect(readSitemap(Buffer.from('https://a.example/x\nnonsense\nhttps://a.example/y')).pages).toHaveLength(2)
})

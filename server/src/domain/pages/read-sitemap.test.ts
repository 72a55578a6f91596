import { gzipSync } from 'node:zlib'
import { describe, expect, test } from 'vitest'
import { mostSitemapBytes, readSitemap } from './read-sitemap.ts'

const pages = (text: string | Buffer): string[] => readSitemap(Buffer.from(text as string)).pages
const a = 'https://a.example/'

describe('a sitemap', () => {
  test('of plain lines gives its addresses and passes over what is none', () => {
    expect(pages(`${a}x\nnonsense\r\n${a}y`)).toEqual([`${a}x`, `${a}y`])
  })
  test('or an index of them is read with and without prefixes, images are no pages', () => {
    const map = `<?xml version="1.0"?><sm:urlset xmlns:sm="x" xmlns:image="y"><sm:url><sm:loc> ${a}x?a=1&amp;b=2 </sm:loc><image:image><image:loc>${a}i.png</image:loc></image:image></sm:url><sm:url><sm:loc><![CDATA[${a}y]]></sm:loc></sm:url></sm:urlset>`
    expect(pages(map)).toEqual([`${a}x?a=1&b=2`, `${a}y`])
    expect(readSitemap(Buffer.from(`<sitemapindex><sitemap><loc>${a}s.xml</loc></sitemap></sitemapindex>`))).toEqual({
      pages: [],
      parts: [`${a}s.xml`],
    })
  })
  test('in another encoding keeps its letters', () => {
    const map = (encoding: string) =>
      `<?xml version="1.0" encoding="${encoding}"?><urlset><url><loc>${a}größe</loc></url></urlset>`
    const wanted = [`${a}gr%C3%B6%C3%9Fe`]
    expect(pages(map('utf-8'))).toEqual(wanted)
    expect(pages(`\ufeff${map('utf-8')}`)).toEqual(wanted)
    expect(pages(Buffer.from(map('iso-8859-1'), 'latin1'))).toEqual(wanted)
    expect(pages(Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(map('utf-16'), 'utf16le')]))).toEqual(wanted)
    expect(pages(Buffer.concat([Buffer.from([0xfe, 0xff]), Buffer.from(map('utf-16'), 'utf16le').swap16()]))).toEqual(
      wanted,
    )
    expect(pages(map('klingon'))).toEqual(wanted)
  })
  test('as a feed gives the pages of its entries', () => {
    const rss = `<rss><channel><link>${a}</link><item><title>t</title><link>${a}x</link><guid isPermaLink="false">7</guid></item><item><guid>${a}y</guid></item></channel></rss>`
    expect(pages(rss)).toEqual([`${a}x`, `${a}y`])
    const atom = `<feed xmlns="x"><link href="${a}"/><entry><link rel="self" href="${a}self"/><link href="${a}x"/></entry><entry><link rel="alternate" href="${a}y"/></entry></feed>`
    expect(pages(atom)).toEqual([`${a}x`, `${a}y`])
    expect(pages(`<rdf:RDF><item rdf:about="${a}x"><link>${a}x</link></item></rdf:RDF>`)).toEqual([`${a}x`])
  })
  test('whose last entry is cut gives the others', () => {
    const map = `<urlset><url><loc>${a}x</loc></url><url><loc>${a}y</loc></url><url><loc>${a}very-long`
    for (const end of [map, `${map}</lo`, `${map}</loc>`]) expect(pages(end)).toEqual([`${a}x`, `${a}y`])
    const packed = gzipSync(
      `<urlset>${Array.from({ length: 9_000 }, (_, i) => `<url><loc>${a}${(i * 7919) % 100_003}</loc></url>`).join('')}</urlset>`,
    )
    const some = pages(packed.subarray(0, packed.length >> 1))
    expect(some.length).toBeGreaterThan(1_000)
    expect(some.every((url, i) => url === `${a}${(i * 7919) % 100_003}`)).toBe(true)
  })
  test('of 50 MiB is read, and of a larger one its beginning', () => {
    const line = `${a}${'x'.repeat(1_000)}\n`
    const lines = Math.floor(mostSitemapBytes / line.length)
    expect(pages(line.repeat(lines))).toHaveLength(lines)
    expect(pages(gzipSync(line.repeat(lines)))).toHaveLength(lines)
    expect(pages(line.repeat(lines + 5))).toHaveLength(lines)
  })
})

import { gunzipSync } from 'node:zlib'
import { Parser } from 'htmlparser2'
import { pageAddress } from '@dew-trail/core/links/page-address'

const mostBytes = 50_000_000

/** Addresses of a sitemap or of the parts of a sitemap index (sitemaps.org 0.9), zipped or plain, or one address a line. */
export function readSitemap(body: Buffer): { pages: string[]; parts: string[] } {
  const plain = body[0] === 0x1f && body[1] === 0x8b ? gunzipSync(body, { maxOutputLength: mostBytes }) : body
  const text = plain.toString('utf8')
  const pages: string[] = []
  const parts: string[] = []
  const add = (list: string[], address: string): void => {
    const url = pageAddress(address)
    if (url) list.push(url)
  }
  if (!text.trimStart().startsWith('<')) {
    for (const line of text.split('\n')) add(pages, line)
    return { pages, parts }
  }
  let inside: string[] | null = null
  let loc: string | null = null
  const parser = new Parser(
    {
      onopentagname: name => {
        if (name === 'url') inside = pages
        else if (name === 'sitemap') inside = parts
        else if (name === 'loc') loc = ''
      },
      ontext: part => {
        if (loc !== null) loc += part
      },
      onclosetag: name => {
        if (name === 'loc' && loc !== null) {
          if (inside) add(inside, loc)
          loc = null
        } else if (name === 'url' || name === 'sitemap') inside = null
      },
    },
    { xmlMode: true },
  )
  parser.write(text)
  parser.end()
  return { pages, parts }
}

import { constants, gunzipSync } from 'node:zlib'
import { pageAddress } from '@dew-trail/core/links/page-address'
import { Parser } from 'htmlparser2'

/** How large a sitemap may be unpacked (sitemaps.org 0.9): 50 MiB. */
export const mostSitemapBytes = 52_428_800

/** Addresses of a sitemap, or of the parts of an index of them. */
export type Sitemap = { pages: string[]; parts: string[] }

/**
 * Addresses of a sitemap or of the parts of a sitemap index (sitemaps.org 0.9), of a feed (RSS 1.0 and 2.0, Atom), or one address a line;
 * zipped or plain, in any encoding that its mark or its declaration tells. An entry that is cut at the end is left out. O(length).
 */
export function readSitemap(body: Buffer): Sitemap {
  const plain = unpacked(body)
  const whole = plain.length < mostSitemapBytes ? plain : plain.subarray(0, mostSitemapBytes)
  const text = decoded(whole)
  if (text.trimStart().startsWith('<')) return readXml(text)
  const lines = text.split(/\r\n|\n|\r/)
  // The last line of a file that was cut is no address.
  if (whole.length < plain.length || whole.length === mostSitemapBytes) lines.pop()
  return { pages: lines.flatMap(line => pageAddress(line) ?? []), parts: [] }
}

/** A zipped file that was cut gives what was packed whole. */
function unpacked(body: Buffer): Buffer {
  if (body[0] !== 0x1f || body[1] !== 0x8b) return body
  return gunzipSync(body, { maxOutputLength: mostSitemapBytes + 1, finishFlush: constants.Z_SYNC_FLUSH })
}

function decoded(bytes: Buffer): string {
  const declared = /^<\?xml[^>]*\bencoding\s*=\s*["']([\w.:-]+)["']/i.exec(bytes.toString('latin1', 0, 200))?.[1]
  const marked =
    bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : null
  try {
    return new TextDecoder(marked ?? declared ?? 'utf-8').decode(bytes)
  } catch {
    return new TextDecoder().decode(bytes)
  }
}

/** Elements that hold one entry, and whether it is a page or a part. */
const entries: Record<string, keyof Sitemap> = { url: 'pages', sitemap: 'parts', item: 'pages', entry: 'pages' }

function readXml(text: string): Sitemap {
  const found: Sitemap = { pages: [], parts: [] }
  let list: keyof Sitemap | null = null
  /** Addresses of the entry that is open, best first, and the text of its address element. */
  let addresses: string[] = []
  let words: string | null = null
  const parser = new Parser(
    {
      onopentag(tag, attributes) {
        const name = localName(tag)
        if (name in entries) {
          list = entries[name]!
          addresses = []
        } else if (list && name === 'link' && attributes.href !== undefined) {
          // Atom: of several links that without a relation, or "alternate", is the page.
          if ((attributes.rel ?? 'alternate') === 'alternate') addresses.push(attributes.href)
        } else if (list && isAddress(tag, name, attributes)) words = ''
      },
      ontext(part) {
        if (words !== null) words += part
      },
      onclosetag(tag, isImplied) {
        // What the end of the file closes was cut.
        if (isImplied) return
        const name = localName(tag)
        if (words !== null && (name === 'loc' || name === 'link' || name === 'guid')) {
          if (name === 'guid') addresses.push(words)
          else addresses.unshift(words)
          words = null
        } else if (name in entries && list) {
          const address = addresses.map(each => pageAddress(each.trim())).find(each => each !== null)
          if (address) found[list].push(address)
          list = null
        }
      },
    },
    { xmlMode: true },
  )
  parser.write(text)
  parser.end()
  return found
}

/** Elements of an entry whose text is its address: not those of extensions, such as the address of an image. */
function isAddress(tag: string, name: string, attributes: Record<string, string>): boolean {
  if (/^(image|video|news|media|itunes):/.test(tag)) return false
  return name === 'loc' || name === 'link' || (name === 'guid' && attributes.isPermaLink !== 'false')
}

const localName = (tag: string): string => tag.slice(tag.indexOf(':') + 1).toLowerCase()

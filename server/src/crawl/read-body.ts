import { decodeBuffer } from 'encoding-sniffer'
import { extractPage, mainText, type PageExtract } from '@dew-trail/core/links/extract-page'
import { minHash } from '@dew-trail/core/links/min-hash'
import { textLanguage } from '@dew-trail/core/links/text-language'

export type PageFacts = Omit<PageExtract, 'blocks'> & {
  text: string
  words: number
  language: string | null
  signature: Uint32Array | null
}

/** The facts of a page from its bytes: charset by BOM, HTTP header, meta element (WHATWG encoding sniffing), then extraction. */
export function readBody(body: Buffer, contentType: string, url: string): PageFacts {
  const charset = /charset\s*=\s*["']?([^\s"';]+)/i.exec(contentType)?.[1]
  return readHtml(decodeBuffer(body, charset ? { transportLayerEncodingLabel: charset } : {}), url)
}

export function readHtml(html: string, url: string): PageFacts {
  const page = extractPage(html, url)
  const text = mainText(page)
  const words = text.toLowerCase().match(/[\p{L}\p{N}]+(?:['’-][\p{L}\p{N}]+)*/gu) ?? []
  const { blocks: _, ...facts } = page
  return { ...facts, text, words: words.length, language: textLanguage(text), signature: minHash(words) }
}

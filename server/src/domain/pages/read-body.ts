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

/**
 * The facts of a page from its bytes: charset by BOM, HTTP header, meta element (WHATWG encoding sniffing), then extraction. XHTML is XML:
 * without a mark, header or declaration it is UTF-8.
 */
export function readBody(body: Buffer, contentType: string, url: string): PageFacts {
  const xml = /^\s*application\/xhtml\+xml/i.test(contentType)
  const charset =
    /charset\s*=\s*["']?([^\s"';]+)/i.exec(contentType)?.[1] ??
    (xml
      ? (/^(?:\ufeff|\u00ef\u00bb\u00bf)?<\?xml[^>]*\bencoding\s*=\s*["']([\w.:-]+)["']/.exec(
          body.toString('latin1', 0, 200),
        )?.[1] ?? 'utf-8')
      : undefined)
  return readHtml(decodeBuffer(body, charset ? { transportLayerEncodingLabel: charset } : {}), url, xml)
}

export function readHtml(html: string, url: string, xml = false): PageFacts {
  const page = extractPage(html, url, { xml })
  const text = mainText(page)
  const words = text.toLowerCase().match(/[\p{L}\p{N}]+(?:['’-][\p{L}\p{N}]+)*/gu) ?? []
  const { blocks: _, ...facts } = page
  return { ...facts, text, words: words.length, language: textLanguage(text), signature: minHash(words) }
}

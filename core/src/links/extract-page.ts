import { Parser } from 'htmlparser2'
import { linkSurroundings, WordStream } from './link-surroundings.ts'
import { pageAddress } from './page-address.ts'
import { type Region, regionOf } from './page-region.ts'

export type PageLink = {
  /** Absolute address without fragment. */
  url: string
  /** The text of the link, the alt text of its image, or the title of a frame; '' when it has none. */
  anchor: string
  /** The tokens of rel, lower case, sorted. */
  rel: string[]
  kind: 'text' | 'image' | 'frame'
  region: Region
  /** Share (0–1) of the words within 40 words on both sides that lie inside other links; `null` when there is no word around. */
  linkedAround: number | null
  /** The words around it, the link itself in [square brackets]; '' in navigation and footers, where they say nothing. */
  around: string
}
export type PageExtract = {
  title: string | null
  description: string | null
  /** Directives of the robots meta elements, lower case; empty when there are none. */
  robots: string[]
  canonical: string | null
  alternates: Array<{ language: string; url: string }>
  /** The language the page says it is written in. */
  declaredLanguage: string | null
  headings: Array<{ level: number; text: string }>
  /** Visible text by block, in order. */
  blocks: Array<{ region: Region; text: string }>
  links: PageLink[]
  /** Where a refresh element sends the reader, if it does. */
  refresh: string | null
  emails: string[]
}

const names = (list: string): string[] => list.split(' ')
/** What no reader sees, with all that is in it: code, drawings, form values, and what stands in for elements that a browser shows. */
const unseen = names(
  'script style template svg math select textarea datalist object applet canvas video audio iframe noframes noembed progress meter rp',
)
/** Elements that part words (HTML Living Standard, 15.3, default display: block, list items, parts of tables); all others run on in the line. */
const blocks = names(
  'address article aside blockquote body caption center col colgroup dd details dialog dir div dl dt fieldset figcaption figure footer form frameset h1 h2 h3 h4 h5 h6 head header hgroup hr html legend li listing main menu nav ol optgroup option p plaintext pre search section summary table tbody td tfoot th thead title tr ul xmp',
)
const noEnd = names('area base br col embed hr img input link meta param source track wbr')
/** Elements with a meaning of their own here, beside the headings. */
const meant = names('html title base meta link li img a area iframe frame br dialog')

type ElementKind = { unseen: boolean; block: boolean; noEnd: boolean; heading: number; means: string }
const plain: ElementKind = { unseen: false, block: false, noEnd: false, heading: 0, means: '' }
/** All that is to be known of an element in one look: a page has thousands, and each look makes its name's hash anew. */
const kinds = new Map<string, ElementKind>(
  [...unseen, ...blocks, ...noEnd, ...meant].map(name => [
    name,
    {
      unseen: unseen.includes(name),
      block: blocks.includes(name),
      noEnd: noEnd.includes(name),
      heading: /^h[1-6]$/.test(name) ? Number(name[1]) : 0,
      means: meant.includes(name) ? name : '',
    },
  ]),
)
const uneven = /[^\S ]| {2}/
/** White space as a reader sees it. Most texts are even already, and replacing every single space costs ten times the look. */
const isMail = /^\s*mailto:/i
const collapse = (text: string): string => (uneven.test(text) ? text.replace(/\s+/g, ' ') : text).trim()

type OpenLink = { at: number; text: string; alt: string; images: number }

/**
 * What a crawler needs of an HTML page: head, headings, visible text and links, in one pass of a streaming parser (htmlparser2). Never
 * throws on broken markup: an element that is never closed ends where its parent or the page ends. `url` is the address the page was
 * got from; the first `base` element counts for all of the page. `xml`: it is XHTML, where an element may close itself. O(length).
 */
export function extractPage(html: string, url: string, { xml = false, from = url } = {}): PageExtract {
  const out: PageExtract = {
    title: null,
    description: null,
    robots: [],
    canonical: null,
    alternates: [],
    declaredLanguage: null,
    headings: [],
    blocks: [],
    links: [],
    refresh: null,
    emails: [],
  }
  let base = from
  let based = false
  /** Whether an address was resolved already, and the base that only came after it. */
  let resolved = false
  let late: string | null = null
  /** How many open elements nobody sees, and how many are hidden: links in those are there all the same. */
  let unseenIn = 0
  let hiddenIn = 0
  let title: string | null = null
  let heading: { level: number; text: string } | null = null
  let line = ''
  let open: OpenLink | null = null
  /** Per open list item: how much text other than links it has, and the links in it. */
  const items: Array<{ other: boolean; links: number[] }> = []
  const regions: Array<{ region: Region; depth: number }> = []
  const unseenAt: number[] = []
  const hiddenAt: number[] = []
  let depth = 0
  const stream = new WordStream()
  const spans: Array<{ from: number; to: number }> = []
  /** Blocks whose markup says nothing about the region; their links are judged afterwards. */
  const unsure = new Set<number>()
  const linkBlock: number[] = []

  const region = (): Region => regions.at(-1)?.region ?? 'content'
  let pending = ''
  /** Text since the last change of link or block; words may run through inline elements. */
  const flushWords = (): void => {
    if (!pending) return
    const before = stream.count
    stream.add(collapse(pending), open ? open.at : -1)
    if (!open && items.length && stream.count > before) items.at(-1)!.other = true
    pending = ''
  }
  const endBlock = (): void => {
    flushWords()
    if (open) open.text += ' '
    if (heading) heading.text += ' '
    const text = collapse(line)
    line = ''
    if (!text) return
    if (!regions.length) unsure.add(out.blocks.length)
    out.blocks.push({ region: region(), text })
  }
  const addLink = (href: string, link: Omit<PageLink, 'url' | 'linkedAround' | 'around' | 'region'>): number | null => {
    resolved = true
    const target = pageAddress(href, base)
    if (target === null) return null
    out.links.push({ url: target, ...link, region: region(), linkedAround: null, around: '' })
    spans.push({ from: stream.count, to: stream.count })
    linkBlock.push(out.blocks.length)
    return out.links.length - 1
  }
  const closeLink = (): void => {
    if (!open) return
    flushWords()
    const link = out.links[open.at]!
    const text = collapse(open.text)
    if (!text && open.images) {
      link.kind = 'image'
      link.anchor = collapse(open.alt)
    } else link.anchor = text
    spans[open.at]!.to = stream.count
    open = null
  }

  const openElement = (name: string, attributes: Record<string, string>): void => {
    const within = unseenIn > 0
    const kind = kinds.get(name) ?? plain
    if (!kind.noEnd) {
      depth++
      if (kind.unseen) {
        unseenIn++
        unseenAt.push(depth)
      } else if (attributes.hidden !== undefined || (kind.means === 'dialog' && attributes.open === undefined)) {
        hiddenIn++
        hiddenAt.push(depth)
      }
    }
    if (within || (unseenIn && kind.means !== 'iframe')) return
    if (kind.block) {
      endBlock()
      const opens = regionOf(name, attributes, regions.length ? regions[regions.length - 1]!.region : null)
      if (opens) regions.push({ region: opens, depth })
    }
    if (kind.heading) heading = { level: kind.heading, text: '' }
    switch (kind.means) {
      case 'html':
        out.declaredLanguage ??= attributes.lang?.trim().toLowerCase() || null
        return
      case 'title':
        if (out.title === null) title = ''
        return
      case 'base':
        if (!based && attributes.href !== undefined) {
          based = true
          const found = pageAddress(attributes.href, url) ?? url
          // It counts for all of the page, also for what stands before it.
          if (found !== base && resolved) late = found
          base = found
        }
        return
      case 'meta':
        readMeta(attributes)
        return
      case 'link':
        readLinkElement(attributes)
        return
      case 'li':
        items.push({ other: false, links: [] })
        return
      case 'img':
        if (open) {
          open.images++
          open.alt += ` ${attributes.alt ?? ''}`
        }
        return
      case 'a':
      case 'area': {
        closeLink()
        flushWords()
        const href = attributes.href
        if (href === undefined) return
        if (isMail.test(href)) {
          const address = href.replace(isMail, '').split('?')[0]!.trim()
          if (address.includes('@') && !out.emails.includes(address)) out.emails.push(address)
          return
        }
        const rel = attributes.rel ? attributes.rel.toLowerCase().split(/\s+/).filter(Boolean).sort() : []
        const at = addLink(href, {
          anchor: name === 'area' ? collapse(attributes.alt ?? '') : '',
          rel,
          kind: name === 'area' ? 'image' : 'text',
        })
        if (at === null || name === 'area') return
        open = { at, text: '', alt: '', images: 0 }
        items.at(-1)?.links.push(at)
        return
      }
      case 'iframe':
      case 'frame':
        if (attributes.src)
          addLink(attributes.src, { anchor: collapse(attributes.title ?? ''), rel: [], kind: 'frame' })
        return
      case 'br':
        line += ' '
        pending += ' '
        if (open) open.text += ' '
        if (heading) heading.text += ' '
    }
  }
  const readMeta = (attributes: Record<string, string>): void => {
    const content = attributes.content
    if (content === undefined) return
    const name = (attributes.name ?? '').toLowerCase()
    if (name === 'description') out.description ??= collapse(content) || null
    else if (name === 'robots')
      out.robots.push(
        ...content
          .toLowerCase()
          .split(',')
          .map(each => each.trim())
          .filter(Boolean),
      )
    else if ((attributes['http-equiv'] ?? '').toLowerCase() === 'refresh') {
      const to = /url\s*=\s*['"]?([^'"]+)/i.exec(content)?.[1]
      if (to) out.refresh ??= pageAddress(to, base)
    }
  }
  const readLinkElement = (attributes: Record<string, string>): void => {
    const rel = (attributes.rel ?? '').toLowerCase().split(/\s+/)
    if (!attributes.href) return
    resolved = true
    const target = pageAddress(attributes.href, base)
    if (target === null) return
    if (rel.includes('canonical')) out.canonical ??= target
    else if (rel.includes('alternate') && attributes.hreflang)
      out.alternates.push({ language: attributes.hreflang.toLowerCase(), url: target })
  }
  const closeElement = (name: string): void => {
    const kind = kinds.get(name) ?? plain
    if (kind.noEnd) return
    if (unseenIn) {
      if (unseenAt[unseenAt.length - 1] === depth) {
        unseenAt.pop()
        unseenIn--
      }
      depth--
      return
    }
    if (kind.means === 'a') closeLink()
    else if (kind.means === 'title' && title !== null) {
      out.title = collapse(title) || null
      title = null
    }
    if (heading && kind.heading) {
      const text = collapse(heading.text)
      if (text) out.headings.push({ level: heading.level, text })
      heading = null
    }
    if (kind.block) endBlock()
    if (kind.means === 'li') {
      const item = items.pop()
      // An item that is nothing but a link belongs to a list of links, unless the list has a place of its own.
      if (item && !item.other)
        for (const at of item.links) if (out.links[at]!.region === 'content') out.links[at]!.region = 'list'
    }
    if (regions.length && regions[regions.length - 1]!.depth === depth) regions.pop()
    if (hiddenIn && hiddenAt[hiddenAt.length - 1] === depth) {
      hiddenAt.pop()
      hiddenIn--
    }
    depth--
  }
  const parser = new Parser(
    {
      onopentag: openElement,
      onclosetag: closeElement,
      ontext: text => {
        if (title !== null) title += text
        else if (unseenIn === 0) {
          if (open) open.text += text
          if (hiddenIn) return
          line += text
          pending += text
          if (heading) heading.text += text
        }
      },
    },
    {
      lowerCaseTags: true,
      lowerCaseAttributeNames: true,
      decodeEntities: true,
      recognizeSelfClosing: xml,
      recognizeCDATA: xml,
    },
  )
  parser.write(html)
  parser.end()
  if (late !== null) return extractPage(html, url, { xml, from: late })
  endBlock()
  placeUnmarked(out, unsure, linkBlock)
  linkSurroundings(out.links, spans, stream)
  addWrittenEmails(out)
  return out
}

const writtenEmail = /[\p{L}\p{N}._%+-]+@[\p{L}\p{N}-]+(?:\.[\p{L}\p{N}-]+)*\.\p{L}{2,}/gu
/** A page that is a list of addresses is nobody's contact: so many are kept. */
const mostEmails = 10
/** Adds e-mail addresses that stand in the text without being links. */
function addWrittenEmails(out: PageExtract): void {
  for (const { text } of out.blocks) {
    if (!text.includes('@')) continue
    for (const [address] of text.matchAll(writtenEmail))
      if (out.emails.length < mostEmails && !out.emails.includes(address)) out.emails.push(address)
  }
}

/** Words of text from which on a block is reading matter. */
const readingWords = 12
/**
 * Pages laid out without named parts: a block that is mostly links stands for navigation before the first reading matter and for the
 * footer after the last.
 */
function placeUnmarked(out: PageExtract, unsure: ReadonlySet<number>, linkBlock: readonly number[]): void {
  if (!unsure.size) return
  const linked = new Map<number, { letters: number; links: number[] }>()
  out.links.forEach((link, i) => {
    const block = linkBlock[i]!
    const at = linked.get(block) ?? { letters: 0, links: [] }
    at.letters += link.anchor.length
    at.links.push(i)
    linked.set(block, at)
  })
  const isMostlyLinks = (block: number): boolean =>
    (linked.get(block)?.letters ?? 0) > 0.55 * (out.blocks[block]?.text.length ?? 0)
  const reading = out.blocks
    .map((_, i) => i)
    .filter(i => !isMostlyLinks(i) && out.blocks[i]!.text.split(' ').length >= readingWords)
  const first = reading[0]
  const last = reading.at(-1)
  if (first === undefined || last === undefined) return
  for (const block of unsure) {
    if (!isMostlyLinks(block) || (block >= first && block <= last)) continue
    const region: Region = block < first ? 'navigation' : 'footer'
    out.blocks[block]!.region = region
    for (const i of linked.get(block)!.links)
      if (out.links[i]!.region === 'content' || out.links[i]!.region === 'list') out.links[i]!.region = region
  }
}

/** The page's own text, for which a reader comes: without navigation, sidebars, footers, and what readers wrote below. Blocks are lines. */
export const mainText = (page: PageExtract): string =>
  page.blocks
    .filter(block => block.region === 'content' || block.region === 'list')
    .map(block => block.text)
    .join('\n')

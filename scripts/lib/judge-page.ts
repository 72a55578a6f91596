import { type DefaultTreeAdapterTypes as Tree, html as names, parse } from 'parse5'

/** What a page holds by a standards parser's tree, read by the same display rules as the crawler's but written on its own: the judge of trials. */
export type JudgedPage = {
  title: string | null
  headings: Array<{ level: number; text: string }>
  /** Absolute addresses without fragment, with the words of the link. */
  links: Array<{ url: string; anchor: string }>
  /** All visible words in order. */
  words: string[]
}

const shown: Record<string, boolean> = {}
for (const name of 'script style template svg math select textarea datalist object applet canvas video audio iframe noframes noembed progress meter rp'.split(
  ' ',
))
  shown[name] = false
const ownLine = new Set(
  'address article aside blockquote body caption center col colgroup dd details dialog dir div dl dt fieldset figcaption figure footer form frameset h1 h2 h3 h4 h5 h6 head header hgroup hr html legend li listing main menu nav ol optgroup option p plaintext pre search section summary table tbody td tfoot th thead title tr ul xmp'.split(
    ' ',
  ),
)
const squeeze = (text: string): string => text.replace(/\s+/g, ' ').trim()

const isElement = (node: Tree.Node): node is Tree.Element => 'tagName' in node
const attribute = (element: Tree.Element, name: string): string | undefined =>
  element.attrs.find(each => each.name === name)?.value
const childrenOf = (node: Tree.Node): Tree.Node[] => ('childNodes' in node ? (node.childNodes as Tree.Node[]) : [])
const isHidden = (element: Tree.Element): boolean =>
  attribute(element, 'hidden') !== undefined ||
  (element.tagName === 'dialog' && attribute(element, 'open') === undefined)

/** The text within a node; `all`: also what is hidden. */
function textOf(node: Tree.Node, all: boolean): string {
  if (node.nodeName === '#text') return (node as Tree.TextNode).value
  if (!isElement(node))
    return childrenOf(node)
      .map(each => textOf(each, all))
      .join('')
  if (shown[node.tagName] === false || node.tagName === 'title' || (!all && isHidden(node))) return ''
  if (node.tagName === 'br') return ' '
  const inside = childrenOf(node)
    .map(each => textOf(each, all))
    .join('')
  return ownLine.has(node.tagName) ? ` ${inside} ` : inside
}

/** The base of addresses: the first base element with an address, wherever it stands. */
function baseOf(root: Tree.Node, url: string): string {
  let found: string | undefined
  const walk = (node: Tree.Node): void => {
    if (found !== undefined || (isElement(node) && shown[node.tagName] === false)) return
    if (isElement(node) && node.tagName === 'base') found = attribute(node, 'href')
    childrenOf(node).forEach(walk)
  }
  walk(root)
  const base = found === undefined ? null : URL.parse(found, url)
  return base && /^https?:$/.test(base.protocol) ? base.href : url
}

export function judgePage(html: string, url: string): JudgedPage {
  const root = parse(html, { scriptingEnabled: false })
  const base = baseOf(root, url)
  const page: JudgedPage = {
    title: null,
    headings: [],
    links: [],
    words: squeeze(textOf(root, false)).split(' ').filter(Boolean),
  }
  const addLink = (href: string | undefined, anchor: string): void => {
    const target = href === undefined ? null : URL.parse(href.trim(), base)
    if (!target || !/^https?:$/.test(target.protocol) || !target.hostname || target.username || target.password) return
    target.hash = ''
    if (href!.trim().length <= 2_000 && target.href.length <= 2_000)
      page.links.push({ url: target.href, anchor: squeeze(anchor) })
  }
  const images = (node: Tree.Node): string =>
    isElement(node) && node.tagName === 'img'
      ? ` ${attribute(node, 'alt') ?? ''}`
      : isElement(node) && shown[node.tagName] === false
        ? ''
        : childrenOf(node).map(images).join('')
  const walk = (node: Tree.Node, hidden: boolean): void => {
    let inHidden = hidden
    if (isElement(node)) {
      const { tagName: name } = node
      if (name === 'title' && page.title === null && node.namespaceURI === names.NS.HTML)
        page.title =
          squeeze(
            childrenOf(node)
              .map(each => textOf(each, true))
              .join(''),
          ) || null
      if (name === 'iframe' || name === 'frame')
        addLink(attribute(node, 'src') || undefined, attribute(node, 'title') ?? '')
      if (shown[name] === false) return
      inHidden ||= isHidden(node)
      if (/^h[1-6]$/.test(name) && !inHidden) {
        const text = squeeze(textOf(node, false))
        if (text) page.headings.push({ level: Number(name[1]), text })
      }
      if (name === 'area') addLink(attribute(node, 'href'), attribute(node, 'alt') ?? '')
      if (name === 'a') {
        const text = squeeze(textOf(node, true))
        addLink(attribute(node, 'href'), text || images(node))
      }
    }
    for (const child of childrenOf(node)) walk(child, inHidden)
  }
  walk(root, false)
  return page
}

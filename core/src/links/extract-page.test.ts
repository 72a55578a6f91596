import { type DefaultTreeAdapterTypes as Tree, parse } from 'parse5'
import { describe, expect, test } from 'vitest'
import { extractPage, mainText } from './extract-page.ts'
import { linkSurroundings, WordStream } from './link-surroundings.ts'

const at = 'http://kiln.example/guides/raku'

/** The judge: what a standards parser's tree says about titles and links. */
function readByParse5(html: string): {
  title: string | null
  links: Array<{ href: string; text: string; rel: string }>
} {
  const links: Array<{ href: string; text: string; rel: string }> = []
  let title: string | null = null
  const textOf = (node: Tree.Node): string =>
    node.nodeName === '#text'
      ? (node as Tree.TextNode).value
      : 'childNodes' in node
        ? (node.childNodes as Tree.Node[]).map(textOf).join('')
        : ''
  const squeeze = (text: string): string => text.replace(/\s+/g, ' ').trim()
  const walk = (node: Tree.Node): void => {
    if (node.nodeName === 'title' && title === null) title = squeeze(textOf(node))
    if (node.nodeName === 'a') {
      const attributes = Object.fromEntries((node as Tree.Element).attrs.map(each => [each.name, each.value]))
      if (attributes.href !== undefined)
        links.push({ href: attributes.href, text: squeeze(textOf(node)), rel: attributes.rel ?? '' })
    }
    if ('childNodes' in node) for (const child of node.childNodes as Tree.Node[]) walk(child)
  }
  walk(parse(html, { scriptingEnabled: false }))
  return { title, links }
}

describe('head', () => {
  const page = extractPage(
    `<!doctype html><html lang="en-GB"><head><title> Raku &amp; smoke
      firing </title><meta name=description content="How  to fire"><meta name="robots" content="NOINDEX, max-snippet:20">
      <link rel="alternate" hreflang="de" href="/de/raku"><link rel=canonical href="/guides/raku-firing#x"></head><body><svg><title>logo</title></svg></body></html>`,
    at,
  )
  test('title, description, robots, canonical, alternates and language', () => {
    expect(page).toMatchObject({
      title: 'Raku & smoke firing',
      description: 'How to fire',
      robots: ['noindex', 'max-snippet:20'],
      canonical: 'http://kiln.example/guides/raku-firing',
      alternates: [{ language: 'de', url: 'http://kiln.example/de/raku' }],
      declaredLanguage: 'en-gb',
    })
  })
  test('what is missing is unknown, not empty', () => {
    expect(extractPage('<p>text', at)).toMatchObject({ title: null, description: null, canonical: null, robots: [] })
  })
})

describe('links', () => {
  test('kinds, anchors and rel', () => {
    const { links } = extractPage(
      `<a href="a?x=1#part" rel="UGC nofollow">the <b>kiln</b></a> <a href="/p"><img src=k.jpg alt="a wheel"></a>
       <a href="https://Clay.example:443/"><img src=k.jpg alt="logo"> Clay </a><iframe src="//maps.example/f" title="Map"></iframe>
       <a href="mailto:me@kiln.example?subject=x">write</a><a href="javascript:void(0)">no</a><a name=top>none</a>`,
      at,
    )
    expect(links.map(({ url, anchor, rel, kind }) => [url, anchor, rel, kind])).toEqual([
      ['http://kiln.example/guides/a?x=1', 'the kiln', ['nofollow', 'ugc'], 'text'],
      ['http://kiln.example/p', 'a wheel', [], 'image'],
      ['https://clay.example/', 'Clay', [], 'text'],
      ['http://maps.example/f', 'Map', [], 'frame'],
    ])
  })
  test('a base element counts once, scripts and comments do not', () => {
    const { links, emails } = extractPage(
      `<base href="/other/"><base href="/never/"><a href=x>x</a><script>"<a href='/s'>"</script><!-- <a href=/c>c</a> --><a href="mailto:me@kiln.example">m</a>`,
      at,
    )
    expect(links.map(link => link.url)).toEqual(['http://kiln.example/other/x'])
    expect(emails).toEqual(['me@kiln.example'])
  })
  test('e-mail addresses that are written out are read too, each once; what is none is not', () => {
    const { emails } = extractPage(
      '<p>Write to hello@kiln.example, or hello@kiln.example.</p><p>Köln: büro@töpfer.example! @nobody and a@b are none.</p><a href="mailto:shop@kiln.example?subject=x">shop</a>',
      at,
    )
    expect(emails).toEqual(['shop@kiln.example', 'hello@kiln.example', 'büro@töpfer.example'])
  })
  test('a link that is never closed ends where the next begins, or with the page', () => {
    const { links } = extractPage('<p><a href=/a>one <a href=/b>two', at)
    expect(links.map(link => [link.url.slice(-2), link.anchor])).toEqual([
      ['/a', 'one'],
      ['/b', 'two'],
    ])
  })
  test('regions by element, role and name', () => {
    const { links } = extractPage(
      `<header><a href=/1>1</a></header><main><header><a href=/2>2</a></header><p>Some words <a href=/3>3</a></p><ul><li><a href=/4>4</a></li><li>with words <a href=/5>5</a></li></ul>
       <div id="comments"><p>I think <a href=/6>6</a></p></div></main><div class="left sidebar"><ul><li><a href=/7>7</a></ul></div><div role=contentinfo><a href=/8>8</a></div>`,
      at,
    )
    expect(links.map(link => link.region)).toEqual([
      'navigation',
      'content',
      'content',
      'list',
      'content',
      'comment',
      'sidebar',
      'footer',
    ])
  })
  test('a page of tables: links before and after the reading matter are no content', () => {
    const reading = '<p>The clay is wedged until no air is left in it, then it rests for an hour or two.</p>'
    const page = extractPage(
      `<table><tr><td><a href=/1>Home</a><br><a href=/2>Shop</a></td><td>${reading}<p>See <a href=/3>kilns</a>.</p>${reading}</td></tr><tr><td><a href=/4>Contact</a></td></tr></table>`,
      at,
    )
    expect(page.links.map(link => link.region)).toEqual(['navigation', 'navigation', 'content', 'footer'])
    expect(mainText(page)).not.toContain('Home')
  })
  test('the judge sees the same titles, links, anchors and rel in messy pages', () => {
    let state = 7
    const draw = (n: number): number => {
      state = (Math.imul(state, 1664525) + 1013904223) >>> 0
      return Math.floor((state / 2 ** 32) * n)
    }
    const pieces = [
      '<p>clay ',
      '</p>',
      '<div class=x>',
      '</div>',
      '<ul><li>one<li>two</ul>',
      '<a href="/n">go</a>',
      "<a rel=nofollow href='/q?a=1&amp;b=2'>the <i>next</i> one</a>",
      '<b>bold</b>',
      ' &lt;kiln&gt; &copy; ',
      '<br>',
      '<img src=x alt="y">',
      '<h2>Head</h2>',
      '<script>var a = "<a href=/no>"</script>',
      '<!-- <a href=/no>no</a> -->',
      '<em>word</em>ing ',
      '<span title="<a href=/no>">s</span>',
    ]
    for (let round = 0; round < 200; round++) {
      let html = `<title>Page ${round}</title>`
      for (let i = 0; i < 25; i++) html += pieces[draw(pieces.length)]
      const expected = readByParse5(html)
      const found = extractPage(html, at)
      expect(found.title).toBe(expected.title)
      const resolved = expected.links.map(link => [new URL(link.href, at).href, link.text, link.rel])
      expect(found.links.map(link => [link.url, link.anchor, link.rel.join(' ')])).toEqual(resolved)
    }
  })
})

describe('display rules', () => {
  const words = (html: string): string =>
    extractPage(html, at)
      .blocks.map(block => block.text)
      .join(' | ')
  test('blocks and line breaks part words in headings, anchors and text; inline and unknown elements do not', () => {
    const page = extractPage(
      '<h1>Raku<br>firing<div>at home</div></h1><a href=/x><div>Kilns</div><div>and <b>wh</b>eels</div>more<br>clay</a><p>One<my-word>two</my-word><wbr>three</p><dl><dt>a<dd>b</dl><table><tr><td>c<td>d</table>',
      at,
    )
    expect(page.headings[0]!.text).toBe('Raku firing at home')
    expect(page.links[0]!.anchor).toBe('Kilns and wheels more clay')
    expect(page.blocks.map(block => block.text)).toEqual(expect.arrayContaining(['Onetwothree', 'a', 'b', 'c', 'd']))
  })
  test('nothing stands in for what a browser shows: templates, drawings, fallbacks; their links are none', () => {
    const hidden = [
      'template',
      'svg',
      'object',
      'video',
      'audio',
      'canvas',
      'iframe',
      'noframes',
      'noembed',
      'select',
      'textarea',
      'datalist',
    ]
    for (const name of hidden) {
      const page = extractPage(`<p>a</p><${name}><a href=/no>no</a><p>no</p></${name}><p>b <a href=/y>y</a></p>`, at)
      expect(
        page.blocks.map(block => block.text),
        name,
      ).toEqual(['a', 'b y'])
      expect(
        page.links.map(link => link.url.slice(-2)),
        name,
      ).toEqual(['/y'])
    }
    expect(
      words('<p>a</p><noscript><p>seen without scripts</p></noscript><dialog>no</dialog><dialog open>yes</dialog>'),
    ).toBe('a | seen without scripts | yes')
  })
  test('a link in a hidden part is there with its anchor, its words are not seen', () => {
    const page = extractPage('<p>a</p><div hidden><p>menu <a href=/m>more</a></p></div>', at)
    expect(page.links.map(link => link.anchor)).toEqual(['more'])
    expect(page.blocks.map(block => block.text)).toEqual(['a'])
  })
  test('base counts for all of the page, the first one only, and not where nobody sees it', () => {
    const urls = (html: string) => extractPage(html, at).links.map(link => link.url)
    expect(urls('<a href=a>a</a><base href="/b/"><a href=c>c</a>')).toEqual([
      'http://kiln.example/b/a',
      'http://kiln.example/b/c',
    ])
    expect(
      urls('<template><base href="/t/"></template><base href="javascript:0"><base href="/b/"><a href=a>a</a>'),
    ).toEqual(['http://kiln.example/guides/a'])
  })
  test('what readers wrote is told apart from the page’s own text', () => {
    const page = extractPage('<main><p>The page.</p><div class="comments"><p>A reader.</p></div></main>', at)
    expect(page.blocks.map(({ region, text }) => `${region}: ${text}`)).toEqual([
      'content: The page.',
      'comment: A reader.',
    ])
    expect(mainText(page)).toBe('The page.')
  })
  test('in XHTML an element may close itself, and marked sections are text', () => {
    const html =
      '<html><head><title>T</title><script src="x"/></head><body><div/><p>a <![CDATA[<b>]]></p></body></html>'
    expect(extractPage(html, at, { xml: true }).blocks.map(block => block.text)).toEqual(['a <b>'])
    expect(extractPage(html, at).blocks).toEqual([])
  })
})

describe('text', () => {
  test('blocks keep inline words together; hidden text is not seen', () => {
    const page = extractPage(
      '<h1>Ki<b>ln</b></h1><p>One<br>two</p><p hidden>no</p><div>three<template>no</template></div><select><option>no</select>',
      at,
    )
    expect(page.blocks.map(block => block.text)).toEqual(['Kiln', 'One two', 'three'])
    expect(page.headings).toEqual([{ level: 1, text: 'Kiln' }])
  })
  test('linkedAround and surroundings are those of a plain count', () => {
    const words = Array.from({ length: 300 }, (_, i) => `w${i}`)
    const spans = [0, 5, 6, 40, 120, 121, 298].map(from => ({ from, to: from + 2 }))
    const link = words.map(() => -1)
    spans.forEach(({ from, to }, i) => {
      for (let k = from; k < to; k++) link[k] = i
    })
    const stream = new WordStream()
    for (const [i, word] of words.entries()) stream.add(i % 2 ? word : `– ${word} –`, link[i]!)
    const links = spans.map(() => ({
      url: '',
      anchor: 'x',
      rel: [],
      kind: 'text' as const,
      region: 'content' as const,
      linkedAround: null as number | null,
      around: '',
    }))
    linkSurroundings(links, spans, stream)
    spans.forEach(({ from, to }, i) => {
      const near = words.map((_, k) => k).filter(k => (k >= from - 40 && k < from) || (k >= to && k < to + 40))
      expect(links[i]!.linkedAround).toBeCloseTo(near.filter(k => link[k]! >= 0).length / near.length, 12)
    })
    expect(links[4]!.around).toBe('w112 w113 w114 w115 w116 w117 w118 w119 [x] w122 w123 w124 w125 w126 w127 w128 w129')
  })
  test('a link alone on a page has no linkedAround', () => {
    expect(extractPage('<a href=/x>only</a>', at).links[0]!.linkedAround).toBeNull()
  })
})

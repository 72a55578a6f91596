import { isoOf } from '../calendar.ts'
import { mix } from '../random.ts'
import type { Block, Document, DocumentLink } from './document.ts'

export const escapeHtml = (text: string): string =>
  text.replace(/[&<>"]/g, char => (char === '&' ? '&amp;' : char === '<' ? '&lt;' : char === '>' ? '&gt;' : '&quot;'))

function linkHtml(link: DocumentLink, quote = '"'): string {
  const rel = link.rel ? ` rel=${quote}${link.rel}${quote}` : ''
  const href = `href=${quote}${escapeHtml(link.href)}${quote}`
  if (link.kind === 'image')
    return `<a ${href}${rel}><img src="/pictures/${mix(link.href.length, link.anchor.length) % 900}.jpg" alt="${escapeHtml(link.anchor)}" width="320" height="200"></a>`
  if (link.kind === 'frame')
    return `<iframe src="${escapeHtml(link.href)}" title="${escapeHtml(link.anchor)}" width="400" height="240"></iframe>`
  return `<a ${href}${rel}>${escapeHtml(link.anchor)}</a>`
}

const lead = {
  en: ['See ', 'More on this: ', 'We found this at ', 'Also worth a look: ', 'As told by '],
  de: ['Siehe ', 'Mehr dazu: ', 'Gefunden bei ', 'Lesenswert auch: '],
}
function blockHtml(document: Document, block: Block, at: number): string {
  const words = lead[document.language]
  let html = block.heading ? `<h2>${escapeHtml(block.heading)}</h2>\n` : ''
  if (block.who) html += `<div class="post"><b class="who">${escapeHtml(block.who)}</b>\n`
  if (block.facts)
    html += `<table class="data">${block.facts.map(([name, value]) => `<tr><th>${escapeHtml(name)}</th><td>${escapeHtml(value)}</td></tr>`).join('')}</table>\n`
  // Links of the text stand behind its paragraphs in turn; those that are left over make a list.
  const textLinks = block.links.filter(link => link.region !== 'list' && link.kind === 'text')
  const listed = block.links.filter(link => link.region === 'list' || link.kind !== 'text')
  const count = block.paragraphs.length
  block.paragraphs.forEach((paragraph, i) => {
    const own = textLinks.filter((_, k) => count && k % count === i)
    html += `<p>${escapeHtml(paragraph)}${own.map((link, k) => ` ${words[(at + i + k) % words.length]}${linkHtml(link)}.`).join('')}</p>\n`
  })
  if (!count) html += textLinks.map(link => `<p>${linkHtml(link)}</p>\n`).join('')
  for (const link of listed.filter(each => each.kind !== 'text')) html += `<p>${linkHtml(link)}</p>\n`
  const items = listed.filter(link => link.kind === 'text')
  if (items.length) html += `<ul class="list">${items.map(link => `<li>${linkHtml(link)}</li>`).join('\n')}</ul>\n`
  if (block.who) html += '</div>\n'
  return html
}

function head(document: Document): string {
  const { site } = document
  const lines = [
    `<meta charset="${site.charset}">`,
    `<title>${escapeHtml(document.title)}</title>`,
    ...(document.description === null
      ? []
      : [`<meta name="description" content="${escapeHtml(document.description)}">`]),
    ...(document.robots === null ? [] : [`<meta name="robots" content="${document.robots}">`]),
    ...(document.canonical === null ? [] : [`<link rel="canonical" href="${escapeHtml(document.canonical)}">`]),
    ...document.alternates.map(
      each => `<link rel="alternate" hreflang="${each.language}" href="${escapeHtml(each.url)}">`,
    ),
    '<meta name="viewport" content="width=device-width, initial-scale=1">',
    '<link rel="stylesheet" href="/style.css">',
    `<style>body{font:1rem/1.6 serif;max-width:70rem;margin:auto}.data th{text-align:left}</style>`,
  ]
  if (document.template % 2)
    lines.push(
      `<script type="application/ld+json">${JSON.stringify({ '@context': 'https://schema.org', '@type': 'WebPage', name: document.title, dateModified: isoOf(document.modified) }).replace(/</g, '\\u003c')}</script>`,
    )
  return lines.join('\n')
}

/** The page as HTML, in the layout of its site: six layouts, from semantic elements to tables without quotes. */
export function renderHtml(document: Document): string {
  const { site, language, template } = document
  const menu = document.navigation
  const blocks = document.blocks.map((block, i) => blockHtml(document, block, i)).join('')
  const title = escapeHtml(document.heading)
  const name = escapeHtml(site.name)
  const aside = document.sidebar.length
    ? `<h3>${language === 'de' ? 'Freunde' : 'Friends'}</h3><ul>${document.sidebar.map(link => `<li>${linkHtml(link)}</li>`).join('')}</ul>`
    : ''
  const foot = document.footer.map(link => linkHtml(link)).join(' · ')
  const list = `<ul>${menu.map(link => `<li>${linkHtml(link)}</li>`).join('')}</ul>`
  const row = menu.map(link => linkHtml(link)).join(' | ')
  const small = `<small>${name}, ${escapeHtml(site.street)} · ${isoOf(document.modified)}</small>`
  const bodies = [
    `<header><strong>${name}</strong><nav>${list}</nav></header>\n<main>\n<article><h1>${title}</h1>\n${blocks}</article>\n</main>\n${aside ? `<aside>${aside}</aside>\n` : ''}<footer>${foot} ${small}</footer>`,
    `<div id="top"><div class="logo">${name}</div><div class="menu">${row}</div></div>\n<div id="wrap"><div id="content"><h1>${title}</h1>\n${blocks}</div>${aside ? `<div id="side" class="sidebar">${aside}</div>` : ''}</div>\n<div id="footer">${foot}<br>${small}</div>`,
    `<table width=100% border=0 cellpadding=4><tr><td colspan=2 bgcolor=#eeeeee><b>${name}</b></td></tr>\n<tr><td width=180 valign=top>${menu.map(link => linkHtml(link, "'")).join('<br>')}${aside}</td><td valign=top><h1>${title}</h1>\n${blocks}</td></tr>\n<tr><td colspan=2 align=center>${foot}<br>${small}</td></tr></table>`,
    `<header class="bar"><p class="brand">${name}</p></header>\n<main class="column"><h1>${title}</h1>\n${blocks}</main>\n<nav class="bottom" aria-label="pages">${list}</nav>\n${aside ? `<aside class="links">${aside}</aside>\n` : ''}<footer><p>${foot}</p>${small}</footer>`,
    `<div class="page"><nav class="crumbs">${row}</nav>${aside ? `<aside>${aside}</aside>` : ''}\n<section class="text"><h1>${title}</h1>\n${blocks}</section>\n<!-- end of text --><footer>${foot} ${small}</footer></div>`,
    `<nav>${list}</nav><div role="main" class="inner"><div class="kicker">${name}</div><h1>${title}</h1>\n${blocks}</div>\n${aside ? `<div role="complementary">${aside}</div>\n` : ''}<div role="contentinfo">${foot}<br>${small}</div>`,
  ]
  const html =
    template === 2
      ? `<!DOCTYPE HTML PUBLIC "-//W3C//DTD HTML 4.01 Transitional//EN">\n<HTML lang=${language}>\n<HEAD>\n${head(document)}\n</HEAD>\n<BODY>\n${bodies[2]}\n</BODY>\n</HTML>\n`
      : `<!doctype html>\n<html lang="${language}">\n<head>\n${head(document)}\n</head>\n<body>\n${bodies[template]}\n<script>document.body.dataset.ready = 'yes' // <a href="/not-a-link">\n</script>\n</body>\n</html>\n`
  if (document.broken === 'cut off') return html.slice(0, Math.floor(html.length * 0.7))
  if (document.broken === 'unclosed')
    return html
      .replace(/<\/(p|li|td|tr|div|ul)>/g, '')
      .replace('</head>', '')
      .replace(' lang="', ' lang=')
  return html
}

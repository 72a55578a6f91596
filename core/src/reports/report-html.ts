import { drawingSvg } from '../pictures/drawing.ts'
import { linePicture } from '../pictures/line-picture.ts'
import { stackPicture } from '../pictures/stack-picture.ts'
import { numberColumns, type ReportBlock, type ReportDocument, type Run } from './report-document.ts'
import { escapeMarkup } from '../text/escape-markup.ts'
import { longDay } from '../days/day-words.ts'

/** Reads well on paper, at a desk and on a phone; nothing is fetched from anywhere. */
const style = (colour: string): string => `
:root { --own: ${colour}; --ink: #1b2b2a; --quiet: #5b6b6a; --line: #dbe4e2; }
* { box-sizing: border-box; }
body { margin: 0; color: var(--ink); background: #fff; font: 15px/1.5 system-ui, 'Segoe UI', Roboto, Arial, sans-serif; }
main { max-width: 900px; margin: 0 auto; padding: 0 20px 60px; }
header { border-top: 6px solid var(--own); padding: 34px 0 18px; border-bottom: 1px solid var(--line); margin-bottom: 10px; }
header img { max-height: 64px; max-width: 240px; display: block; margin-bottom: 16px; }
h1 { font-size: 28px; line-height: 1.2; margin: 0 0 6px; }
h2 { font-size: 20px; margin: 36px 0 8px; color: var(--own); break-after: avoid; }
h3 { font-size: 16px; margin: 20px 0 6px; break-after: avoid; }
p { margin: 8px 0; overflow-wrap: anywhere; } p.quiet, header p { color: var(--quiet); }
.figures { display: grid; grid-template-columns: repeat(auto-fit, minmax(150px, 1fr)); gap: 12px; margin: 14px 0; }
.figures div { border: 1px solid var(--line); border-radius: 6px; padding: 10px 12px; break-inside: avoid; }
.figures b { display: block; font-size: 24px; line-height: 1.25; } .figures span { color: var(--quiet); font-size: 13px; display: block; }
.good { color: #0b6b52 !important; } .bad { color: #9c3d12 !important; }
.picture svg { width: 100%; height: auto; max-height: 640px; } .picture { margin: 12px 0; break-inside: avoid; }
.table { overflow-x: auto; margin: 12px 0; } table { border-collapse: collapse; width: 100%; font-size: 13.5px; }
thead { display: table-header-group; } tr { break-inside: avoid; }
th, td { text-align: left; padding: 5px 10px 5px 0; border-bottom: 1px solid var(--line); vertical-align: top; }
th { color: var(--quiet); font-weight: 600; font-size: 12.5px; } .n { text-align: right; font-variant-numeric: tabular-nums; white-space: nowrap; }
a { color: var(--own); } .break { break-after: page; } footer { color: var(--quiet); font-size: 12px; margin-top: 40px; }
@media (max-width: 560px) { body { font-size: 16px; } h1 { font-size: 24px; } }
@media print { main { max-width: none; padding: 0; } header { padding-top: 10px; } }
`

/** A report as one HTML document that stands alone: styles and pictures are in it, scripts there are none. */
export function reportHtml(report: ReportDocument): string {
  const { title, site, domain, market, asOf, since, madeOn, colour, logo, language, blocks } = report
  const picture = logo ? `<img src="data:${logo.type};base64,${logo.base64}" alt="${escapeMarkup(site)}">` : ''
  return `<!doctype html>
<html lang="${escapeMarkup(language)}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="robots" content="noindex">
<title>${escapeMarkup(`${title}: ${site}`)}</title>
<style>${style(colour)}</style>
</head>
<body>
<main>
<header>
${picture}<h1>${escapeMarkup(title)}</h1>
<p>${escapeMarkup(site)}, ${escapeMarkup(domain)}. ${escapeMarkup(market)}. ${longDay(asOf)}, compared with ${longDay(since)}.</p>
</header>
${blocks.map(blockHtml).join('\n')}
<footer>Made on ${longDay(madeOn)}.</footer>
</main>
</body>
</html>
`
}

function blockHtml(block: ReportBlock): string {
  switch (block.kind) {
    case 'heading':
      return `<h${block.level}>${escapeMarkup(block.text)}</h${block.level}>`
    case 'text':
      return `<p${block.quiet ? ' class="quiet"' : ''}>${runsHtml(block.runs)}</p>`
    case 'list': {
      const tag = block.ordered ? 'ol' : 'ul'
      return `<${tag}>${block.items.map(item => `<li>${runsHtml(item)}</li>`).join('')}</${tag}>`
    }
    case 'figures':
      return `<div class="figures">${block.figures
        .map(({ label, value, change, good }) => {
          const tone = good === null ? '' : ` class="${good ? 'good' : 'bad'}"`
          return `<div><span>${escapeMarkup(label)}</span><b>${escapeMarkup(value)}</b>${change === null ? '' : `<span${tone}>${escapeMarkup(change)}</span>`}</div>`
        })
        .join('')}</div>`
    case 'lines':
      return `<div class="picture">${linePicture(block.picture)}</div>`
    case 'stack':
      return `<div class="picture">${stackPicture(block.picture)}</div>`
    case 'drawing':
      return `<div class="picture">${drawingSvg(block.picture, block.title)}</div>`
    case 'table': {
      const numbers = numberColumns(block.head, block.rows)
      const cells = (row: readonly string[], tag: 'td' | 'th'): string =>
        row.map((cell, i) => `<${tag}${numbers[i] ? ' class="n"' : ''}>${escapeMarkup(cell)}</${tag}>`).join('')
      const more =
        block.of && block.of > block.rows.length ? `<p class="quiet">${moreWords(block.rows.length, block.of)}</p>` : ''
      return `<div class="table"><table><thead><tr>${cells(block.head, 'th')}</tr></thead><tbody>${block.rows
        .map(row => `<tr>${cells(row, 'td')}</tr>`)
        .join('')}</tbody></table></div>${more}`
    }
    case 'break':
      return '<div class="break"></div>'
  }
}

export const moreWords = (shown: number, of: number): string =>
  `The first ${shown.toLocaleString('en')} of ${of.toLocaleString('en')}.`

const runsHtml = (runs: readonly Run[]): string =>
  runs
    .map(({ text, strong, emphasis, link }) => {
      let html = escapeMarkup(text).replaceAll('\n', '<br>')
      if (emphasis) html = `<em>${html}</em>`
      if (strong) html = `<strong>${html}</strong>`
      return link ? `<a href="${escapeMarkup(link)}" rel="noreferrer">${html}</a>` : html
    })
    .join('')

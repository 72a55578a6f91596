import { drawingSvg } from '@dew-trail/core/pictures/drawing'
import { linePicture } from '@dew-trail/core/pictures/line-picture'
import { stackPicture } from '@dew-trail/core/pictures/stack-picture'
import { numberColumns, type ReportBlock, type ReportDocument, type Run } from '@dew-trail/core/reports/report-document'
import { moreWords } from '@dew-trail/core/reports/report-html'
import { longDay } from '@dew-trail/core/days/day-words'
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces.js'

const [quiet, line, good, bad] = ['#5b6b6a', '#dbe4e2', '#0b6b52', '#9c3d12']
/** A4 less its margins, in points. */
const width = 595.28 - 2 * 48
const tallest = 600
const figuresInARow = 4

/** A report as pdfmake takes it: real text, tables whose heads are repeated, pictures as vectors, page numbers, title and language set. */
export function pdfDefinition(report: ReportDocument): TDocumentDefinitions {
  const { title, site, domain, market, asOf, since, madeOn, colour, logo, language, blocks } = report
  return {
    pageSize: 'A4',
    pageMargins: [48, 54, 48, 54],
    info: { title: `${title}: ${site}`, subject: `${domain}, ${longDay(asOf)}`, creator: 'Dew Trail' },
    // Read aloud in its language.
    language,
    defaultStyle: { font: 'Roboto', fontSize: 10, lineHeight: 1.25, color: '#1b2b2a' },
    footer: (page, pages) => ({
      columns: [
        { text: `${title}, ${site}`, color: quiet, fontSize: 8 },
        { text: `${page} of ${pages}`, alignment: 'right', color: quiet, fontSize: 8 },
      ],
      margin: [48, 20, 48, 0],
    }),
    // A heading stands with what it heads.
    pageBreakBefore: (node, { getFollowingNodesOnPage }) =>
      node.headlineLevel !== undefined && getFollowingNodesOnPage().length === 0,
    content: [
      { canvas: [{ type: 'rect', x: 0, y: 0, w: width, h: 5, color: colour }], margin: [0, 0, 0, 28] },
      ...(logo
        ? [{ image: `data:${logo.type};base64,${logo.base64}`, fit: [180, 56], margin: [0, 0, 0, 18] } as Content]
        : []),
      { text: shown(title), fontSize: 24, bold: true, margin: [0, 0, 0, 6] },
      {
        text: shown(
          `${site}, ${domain}. ${market}. ${longDay(asOf)}, compared with ${longDay(since)}. Made on ${longDay(madeOn)}.`,
        ),
        color: quiet,
        margin: [0, 0, 0, 12],
      },
      ...together(blocks, colour),
    ],
  }
}

const pictures = ['lines', 'stack', 'drawing']
/** A heading and what it heads on one page, where that is no table that may go over several; a picture with its sentence. */
function together(blocks: readonly ReportBlock[], colour: string): Content[] {
  const contents: Content[] = []
  for (let i = 0; i < blocks.length; i++) {
    const [block, next, third] = [blocks[i]!, blocks[i + 1], blocks[i + 2]]
    if (block.kind !== 'heading' || !next || ['table', 'list', 'break', 'heading'].includes(next.kind)) {
      contents.push(contentOf(block, colour))
      continue
    }
    const isWithPicture = next.kind === 'text' && third !== undefined && pictures.includes(third.kind)
    const stack = [block, next, ...(isWithPicture ? [third] : [])].map(each => contentOf(each, colour))
    contents.push({ stack, unbreakable: true })
    i += stack.length - 1
  }
  return contents
}

function contentOf(block: ReportBlock, colour: string): Content {
  switch (block.kind) {
    case 'heading':
      return {
        text: shown(block.text),
        fontSize: block.level === 2 ? 15 : 12,
        bold: true,
        ...(block.level === 2 ? { color: colour } : {}),
        margin: [0, block.level === 2 ? 20 : 12, 0, 5],
        headlineLevel: block.level,
      }
    case 'text':
      return { text: runsOf(block.runs, colour), margin: [0, 3, 0, 5], ...(block.quiet ? { color: quiet } : {}) }
    case 'list': {
      const items = block.items.map(item => ({
        text: runsOf(item, colour),
        margin: [0, 1, 0, 2] as [number, number, number, number],
      }))
      return block.ordered ? { ol: items } : { ul: items }
    }
    case 'figures': {
      const rows: Content[] = []
      for (let at = 0; at < block.figures.length; at += figuresInARow) {
        const part = block.figures.slice(at, at + figuresInARow)
        rows.push({
          columns: [
            ...part.map(({ label, value, change, good: isGood }) => ({
              width: '*',
              unbreakable: true,
              stack: [
                { text: shown(label), color: quiet, fontSize: 8.5 },
                { text: shown(value), fontSize: 19, bold: true },
                ...(change === null
                  ? []
                  : [{ text: shown(change), fontSize: 9, color: isGood === null ? quiet : isGood ? good : bad }]),
              ],
            })),
            ...Array.from({ length: figuresInARow - part.length }, () => ({ width: '*', text: '' })),
          ],
          columnGap: 12,
          margin: [0, 6, 0, 8],
        })
      }
      return rows
    }
    case 'lines':
      return { svg: vector(linePicture(block.picture)), width, margin: [0, 4, 0, 8] }
    case 'stack':
      return { svg: vector(stackPicture(block.picture)), width, margin: [0, 4, 0, 8] }
    case 'drawing': {
      const { picture, title } = block
      // A tall picture must fit on a page.
      return { svg: vector(drawingSvg(picture, title)), fit: [width, tallest], margin: [0, 4, 0, 8] }
    }
    case 'table': {
      const numbers = numberColumns(block.head, block.rows)
      const most = widest(block.head, block.rows)
      const cell = (text: string, i: number, more = {}) => ({
        text: shown(text),
        ...(numbers[i] ? { alignment: 'right' as const } : {}),
        ...more,
      })
      const table: Content = {
        table: {
          headerRows: 1,
          dontBreakRows: true,
          keepWithHeaderRows: 1,
          widths: block.head.map((_, i) => (i === most ? '*' : 'auto')),
          body: [
            block.head.map((text, i) => cell(text, i, { color: quiet, bold: true, fontSize: 8.5 })),
            ...block.rows.map(row => row.map((text, i) => cell(text, i))),
          ],
        },
        layout: {
          hLineWidth: i => (i === 0 ? 0 : 0.5),
          vLineWidth: () => 0,
          hLineColor: () => line,
          paddingLeft: i => (i === 0 ? 0 : 5),
          paddingRight: () => 5,
          paddingTop: () => 3,
          paddingBottom: () => 3,
        },
        fontSize: block.head.length > 7 ? 7.5 : 9,
        margin: [0, 5, 0, 8],
      }
      const { of } = block
      return of && of > block.rows.length
        ? [table, { text: moreWords(block.rows.length, of), color: quiet, fontSize: 8.5, margin: [0, 0, 0, 8] }]
        : table
    }
    case 'break':
      return { text: '', pageBreak: 'after' }
  }
}

/** The column with most text takes what the others leave. */
function widest(head: readonly string[], rows: ReadonlyArray<readonly string[]>): number {
  const lengths = head.map((_, i) => rows.reduce((sum, row) => sum + Math.min(80, row[i]?.length ?? 0), 0))
  return lengths.indexOf(Math.max(...lengths))
}

const runsOf = (runs: readonly Run[], colour: string): Content[] =>
  runs.map(({ text, strong, emphasis, link }) => ({
    text: shown(text),
    ...(strong ? { bold: true } : {}),
    ...(emphasis ? { italics: true } : {}),
    ...(link ? { link, color: colour, decoration: 'underline' as const } : {}),
  }))

/** The shipped letters have no arrow. */
const shown = (text: string): string => text.replaceAll('→', '›')
const vector = (svg: string): string => shown(svg).replaceAll('font-family="sans-serif"', 'font-family="Roboto"')

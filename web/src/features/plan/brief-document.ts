import { readBrief } from '@dew-trail/contract/brief'
import type { PlannedPage } from '@dew-trail/contract/plan'
import { briefBlocks } from '@dew-trail/core/planning/brief-blocks'
import { type Block, toMarkdown } from '@dew-trail/core/text/blocks'
import { call } from '../../api/call.ts'
import { formatDay } from '../../ui/format.ts'
import { kindLabels, spotLabels, stateLabels } from './plan-words.ts'

/** Briefs of pages one after another as a document; each begins on a page of its own. */
export async function briefsDocument(
  siteId: number,
  marketId: number,
  pages: readonly PlannedPage[],
): Promise<Block[]> {
  const blocks: Block[] = []
  for (const page of pages) {
    const { text, offers } = await call(readBrief, { siteId, marketId, pageId: page.id })
    if (blocks.length) blocks.push({ kind: 'break' })
    blocks.push(
      ...briefBlocks(
        {
          ...page,
          work: kindLabels[page.kind],
          state: stateLabels[page.state].toLowerCase(),
          deadline: page.deadline && formatDay(page.deadline),
          keywords: page.keywords.map(each => ({ ...each, spot: each.spot && spotLabels[each.spot].toLowerCase() })),
        },
        text,
        offers.rivals,
      ),
    )
  }
  return blocks
}

export const markdownFile = (blocks: readonly Block[]): Blob =>
  new Blob([toMarkdown(blocks)], { type: 'text/markdown' })

/** The document as a word processor's file. */
export async function docxFile(blocks: readonly Block[]): Promise<Blob> {
  const { blocksToDocx } = await import('./docx-file.ts')
  return blocksToDocx(blocks)
}

/** Prints the document from a frame that is taken away after. */
export async function printBlocks(title: string, blocks: readonly Block[]): Promise<void> {
  const frame = document.createElement('iframe')
  frame.style.cssText = 'position:fixed;width:0;height:0;border:0;left:-10px'
  frame.title = 'What is printed'
  document.body.append(frame)
  const page = frame.contentDocument!
  fillDocument(page, title, blocks)
  await frame.contentDocument!.fonts?.ready
  frame.contentWindow!.onafterprint = () => frame.remove()
  frame.contentWindow!.print()
}

const style = `
  body { font: 12px/1.45 'Hanken Grotesk Variable', sans-serif; color: #000; margin: 0; }
  h1 { font-size: 18px; margin: 0 0 4px; } h2 { font-size: 13px; margin: 12px 0 2px; } p, ul, ol { margin: 2px 0 4px; white-space: pre-line; }
  table { border-collapse: collapse; width: 100%; } th, td { text-align: left; border-bottom: 1px solid #bbb; padding: 2px 8px 2px 0; }
  tr { break-inside: avoid; } thead { display: table-header-group; } .break { break-after: page; }
`
/** Writes blocks into a document, without reading any of them as markup. */
export function fillDocument(page: Document, title: string, blocks: readonly Block[]): void {
  const add = (parent: Element, name: string, words = ''): HTMLElement => {
    const element = page.createElement(name)
    if (words) element.textContent = words
    parent.append(element)
    return element
  }
  page.title = title
  add(page.head, 'style', style)
  for (const block of blocks) {
    if (block.kind === 'heading') add(page.body, `h${block.level}`, block.text)
    else if (block.kind === 'text') add(page.body, 'p', block.text)
    else if (block.kind === 'list') {
      const list = add(page.body, block.ordered ? 'ol' : 'ul')
      for (const item of block.items) add(list, 'li', item)
    } else if (block.kind === 'break') add(page.body, 'div').className = 'break'
    else {
      const [head = [], ...rows] = block.rows
      const table = add(page.body, 'table')
      const line = add(add(table, 'thead'), 'tr')
      for (const cell of head) add(line, 'th', cell)
      const body = add(table, 'tbody')
      for (const row of rows) {
        const cells = add(body, 'tr')
        for (const cell of row) add(cells, 'td', cell)
      }
    }
  }
}

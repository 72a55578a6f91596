import { lexer, type Tokens } from 'marked'
import type { ReportBlock, Run } from './report-document.ts'

type Token = Tokens.Generic

/**
 * Own words of a report, written in Markdown (CommonMark with tables), as blocks. HTML in it is text; pictures are named by their words, and
 * headings begin below those of sections.
 */
export function markdownBlocks(markdown: string): ReportBlock[] {
  return (lexer(markdown) as Token[]).flatMap(blocksOf)
}

function blocksOf(token: Token): ReportBlock[] {
  switch (token.type) {
    case 'heading':
      return [
        {
          kind: 'heading',
          level: 3,
          text: runsOf(token.tokens)
            .map(run => run.text)
            .join(''),
        },
      ]
    case 'paragraph':
    case 'text':
      return [{ kind: 'text', runs: runsOf(token.tokens ?? [token]) }]
    case 'html':
    case 'code':
      return [{ kind: 'text', runs: [{ text: String(token.text ?? token.raw).trim() }] }]
    case 'blockquote':
      return (token.tokens ?? [])
        .flatMap(blocksOf)
        .map(block => (block.kind === 'text' ? { ...block, quiet: true } : block))
    case 'list': {
      const list = token as Tokens.List
      return [{ kind: 'list', ordered: list.ordered, items: list.items.map(item => runsOf(item.tokens)) }]
    }
    case 'table': {
      const table = token as Tokens.Table
      const text = (cell: Tokens.TableCell): string =>
        runsOf(cell.tokens)
          .map(run => run.text)
          .join('')
      return [{ kind: 'table', head: table.header.map(text), rows: table.rows.map(row => row.map(text)) }]
    }
    default:
      return []
  }
}

/** What stands in a line, its marks as marks of runs. Lists within an item follow it on the same line. */
function runsOf(tokens: readonly Token[] = [], marks: Omit<Run, 'text'> = {}): Run[] {
  return tokens.flatMap((token, i): Run[] => {
    const more = (extra: Omit<Run, 'text'>): Run[] =>
      runsOf(token.tokens as Token[] | undefined, { ...marks, ...extra })
    switch (token.type) {
      case 'strong':
        return more({ strong: true })
      case 'em':
        return more({ emphasis: true })
      case 'link':
        return /^(https?:|mailto:)/i.test(String(token.href)) ? more({ link: String(token.href) }) : more({})
      case 'br':
        return [{ ...marks, text: '\n' }]
      case 'space':
        return []
      case 'list':
        return (token as Tokens.List).items.flatMap(item => [{ ...marks, text: '; ' }, ...runsOf(item.tokens, marks)])
      default: {
        const inner = token.tokens as Token[] | undefined
        if (inner?.length)
          return [...(i && token.type === 'paragraph' ? [{ ...marks, text: '\n' }] : []), ...runsOf(inner, marks)]
        return [{ ...marks, text: unescaped(String(token.text ?? token.raw)) }]
      }
    }
  })
}

const entities: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', '#39': "'" }
const unescaped = (text: string): string =>
  text.replace(/&(amp|lt|gt|quot|#39);/g, (_, name: string) => entities[name]!)

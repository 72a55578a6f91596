/** A plain document: what is written once and goes out as Markdown, DOCX or a print. Cells and items are text, never markup. */
export type Block =
  | { kind: 'heading'; level: 1 | 2 | 3; text: string }
  | { kind: 'text'; text: string }
  | { kind: 'list'; ordered: boolean; items: string[] }
  /** The first row is the head. */
  | { kind: 'table'; rows: string[][] }
  /** What follows begins on a new page. */
  | { kind: 'break' }

/** Characters that Markdown reads as marks (CommonMark 0.31, 2.4), at any place or at the beginning of a line. */
const escaped = (text: string): string =>
  text
    .replace(/\s*\n\s*/g, ' ')
    .replace(/[\\`*_[\]<>|&]/g, '\\$&')
    .replace(/^(\s*)([#+\-~=]|\d+[.)])/, (_, space: string, mark: string) =>
      /^\d/.test(mark) ? `${space}${mark.slice(0, -1)}\\${mark.slice(-1)}` : `${space}\\${mark}`,
    )

/** Blocks as CommonMark with tables (GitHub's extension), each paragraph of a text by itself. Ends with a line break. */
export function toMarkdown(blocks: readonly Block[]): string {
  return `${blocks.map(blockText).join('\n\n')}\n`
}

function blockText(block: Block): string {
  switch (block.kind) {
    case 'heading':
      return `${'#'.repeat(block.level)} ${escaped(block.text)}`
    case 'text':
      return block.text
        .split(/\n{2,}/)
        .map(paragraph => paragraph.split('\n').map(escaped).join('\\\n'))
        .join('\n\n')
    case 'list':
      return block.items.map((item, i) => `${block.ordered ? `${i + 1}.` : '-'} ${escaped(item)}`).join('\n')
    case 'table': {
      const [head = [], ...rows] = block.rows
      const line = (cells: readonly string[]): string => `| ${cells.map(escaped).join(' | ')} |`
      return [line(head), `|${head.map(() => ' --- |').join('')}`, ...rows.map(line)].join('\n')
    }
    case 'break':
      return '---'
  }
}

import type { Block } from '@dew-trail/core/text/blocks'
import {
  AlignmentType,
  Document,
  type FileChild,
  HeadingLevel,
  LevelFormat,
  Packer,
  PageBreak,
  Paragraph,
  Table,
  TableCell,
  TableRow,
  TextRun,
  WidthType,
} from 'docx'

const headings = { 1: HeadingLevel.HEADING_1, 2: HeadingLevel.HEADING_2, 3: HeadingLevel.HEADING_3 } as const
/** Characters that XML 1.0 cannot hold. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: they are what is looked for.
const unfit = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g
const plain = (text: string): string => text.replace(unfit, ' ')

/** Blocks as a DOCX file: headings and lists are the word processor's own, so that they can be worked on. */
export async function blocksToDocx(blocks: readonly Block[]): Promise<Blob> {
  const children = blocks.flatMap(fileChildren)
  return Packer.toBlob(
    new Document({
      creator: 'Dew Trail',
      numbering: {
        config: [
          {
            reference: 'numbers',
            levels: [
              {
                level: 0,
                format: LevelFormat.DECIMAL,
                text: '%1.',
                alignment: AlignmentType.START,
                style: { paragraph: { indent: { left: 720, hanging: 360 } } },
              },
            ],
          },
        ],
      },
      sections: [{ children }],
    }),
  )
}

/** One block; `instance` counts lists, so that each begins with 1. */
function fileChildren(block: Block, instance: number): FileChild[] {
  switch (block.kind) {
    case 'heading':
      return [new Paragraph({ text: plain(block.text), heading: headings[block.level] })]
    case 'text':
      return block.text.split(/\n{2,}/).map(
        paragraph =>
          new Paragraph({
            spacing: { after: 120 },
            children: paragraph
              .split('\n')
              .map((line, i) => new TextRun({ text: plain(line), ...(i > 0 ? { break: 1 } : {}) })),
          }),
      )
    case 'list': {
      return block.items.map(
        item =>
          new Paragraph({
            text: plain(item),
            ...(block.ordered ? { numbering: { reference: 'numbers', level: 0, instance } } : { bullet: { level: 0 } }),
          }),
      )
    }
    case 'table':
      return [
        new Table({
          width: { size: 100, type: WidthType.PERCENTAGE },
          rows: block.rows.map(
            (row, i) =>
              new TableRow({
                tableHeader: i === 0,
                cantSplit: true,
                children: row.map(
                  cell =>
                    new TableCell({
                      margins: { left: 80, right: 80, top: 40, bottom: 40 },
                      children: [new Paragraph({ children: [new TextRun({ text: plain(cell), bold: i === 0 })] })],
                    }),
                ),
              }),
          ),
        }),
      ]
    case 'break':
      return [new Paragraph({ children: [new PageBreak()] })]
  }
}

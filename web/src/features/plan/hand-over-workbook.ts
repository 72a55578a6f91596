import { readBrief } from '@dew-trail/contract/brief'
import type { PlannedPage } from '@dew-trail/contract/plan'
import { fileCell, freeSheetName } from '@dew-trail/core/tables/file-cells'
import { call } from '../../api/call.ts'
import { kindLabels, spotLabels, stateLabels } from './plan-words.ts'

/** As many sheets as a workbook is still of use with. */
export const mostSheets = 250

type Keyword = PlannedPage['keywords'][number]
/** Columns of a page's sheet, by the key under which a choice of them is kept. */
export const keywordColumns = {
  chosen: { label: 'Chosen', of: (_: Keyword, i: number) => (i === 0 ? 'lead' : 'yes') },
  searches: { label: 'Searches a month', of: (each: Keyword) => each.searches },
  exact: { label: 'Searches of exactly this', of: (each: Keyword) => rounded(each.match?.exact ?? null) },
  inOrder: { label: 'Searches in this order', of: (each: Keyword) => rounded(each.match?.inOrder ?? null) },
  anyOrder: { label: 'Searches in any order', of: (each: Keyword) => rounded(each.match?.anyOrder ?? null) },
  cpc: { label: 'CPC', of: (each: Keyword) => each.cpc && Math.round(each.cpc * 100) / 100 },
  difficulty: { label: 'Difficulty', of: (each: Keyword) => rounded(each.difficulty) },
  chance: {
    label: 'Chance of the first page',
    of: (each: Keyword) => each.chance && Math.round(each.chance * 100) / 100,
  },
  position: { label: 'Position now', of: (each: Keyword) => rounded(each.position) },
  standing: { label: 'Page that stands there', of: (each: Keyword) => each.standing },
  visitsNow: { label: 'Visits a month now', of: (each: Keyword) => rounded(each.visitsNow) },
  visits: { label: 'Visits a month with the plan', of: (each: Keyword) => rounded(each.visits) },
  spot: { label: 'Goes to', of: (each: Keyword) => (each.spot ? spotLabels[each.spot] : null) },
  theme: { label: 'Theme', of: (each: Keyword) => each.theme },
} as const
export type KeywordColumn = keyof typeof keywordColumns
const rounded = (value: number | null): number | null => (value === null ? null : Math.round(value))

/** A keyword of a page's themes that does not stand on it. */
export type LeftKeyword = { phrase: string; searches: number | null; difficulty: number | null; theme: string }

type Value = string | number | null | undefined
const cell = (value: Value, bold = false) => {
  const plain = fileCell(value ?? null)
  return plain === ''
    ? null
    : {
        value: plain,
        type: typeof plain === 'number' ? Number : String,
        ...(bold ? { fontWeight: 'bold' as const } : {}),
      }
}
const row = (values: readonly Value[], bold = false) => values.map(value => cell(value, bold))

/**
 * A workbook to hand over: an overview, and a sheet for each page with its brief and its keywords, those chosen for it marked, then those
 * of its themes that are not. Throws where there are more pages than it can hold.
 */
export async function handOverWorkbook(
  at: { siteId: number; marketId: number },
  pages: readonly PlannedPage[],
  columns: readonly KeywordColumn[],
  leftOf: (page: PlannedPage) => readonly LeftKeyword[],
): Promise<Blob> {
  if (pages.length > mostSheets)
    throw new Error(
      `A workbook takes up to ${mostSheets} pages, these are ${pages.length}. Choose some of them in the list.`,
    )
  const { default: writeXlsxFile } = await import('write-excel-file/universal')
  const taken = new Set<string>()
  const sheets = [
    {
      sheet: freeSheetName('Overview', taken),
      stickyRowsCount: 1,
      columns: [{ width: 36 }, { width: 34 }],
      data: overview(pages),
    },
  ]
  for (const page of pages) {
    const { text } = await call(readBrief, { ...at, pageId: page.id })
    sheets.push({
      sheet: freeSheetName(page.title, taken),
      stickyRowsCount: 0,
      columns: [{ width: 36 }, { width: 34 }],
      data: [
        row(['Page', page.title], true),
        row(['Address', page.address]),
        row(['What to do', kindLabels[page.kind]]),
        row(['Title', text.title]),
        row(['Description', text.description]),
        row([
          'Length in words',
          text.wordsFrom === null && text.wordsTo === null ? null : `${text.wordsFrom ?? ''} to ${text.wordsTo ?? ''}`,
        ]),
        ...text.headings.map((heading, i) => row([i === 0 ? 'Headings' : null, heading])),
        ...text.terms.map((term, i) => row([i === 0 ? 'Terms to cover' : null, term])),
        ...text.links.map(({ from, anchor }, i) => row([i === 0 ? 'Links to set' : null, from, anchor])),
        row(['Remarks', [text.remarks, page.remarks].filter(Boolean).join('\n')]),
        [],
        row(['Keyword', ...columns.map(key => keywordColumns[key].label)], true),
        ...page.keywords.map((keyword, i) =>
          row([keyword.phrase, ...columns.map(key => keywordColumns[key].of(keyword, i))]),
        ),
        ...leftOf(page).map(left =>
          row([
            left.phrase,
            ...columns.map(key =>
              key === 'chosen'
                ? 'no'
                : key === 'searches'
                  ? left.searches
                  : key === 'difficulty'
                    ? rounded(left.difficulty)
                    : key === 'theme'
                      ? left.theme
                      : null,
            ),
          ]),
        ),
      ],
    })
  }
  return writeXlsxFile(sheets).toBlob()
}

function overview(pages: readonly PlannedPage[]) {
  const head = [
    'Page',
    'Address',
    'What to do',
    'State',
    'Deadline',
    'Owner',
    'Days of work',
    'Lead keyword',
    'Keywords',
    'Searches a month',
    'Difficulty from',
    'Difficulty to',
    'CPC, weighted',
    'Visits a month now',
    'With the plan',
    'Low',
    'High',
    'Themes',
    'Remarks',
  ]
  return [
    row(head, true),
    ...pages.map(page =>
      row([
        page.title,
        page.address,
        kindLabels[page.kind],
        page.late ? `${stateLabels[page.state]}, late` : stateLabels[page.state],
        page.deadline,
        page.owner,
        page.effort,
        page.keywords[0]?.phrase,
        page.keywords.length,
        rounded(page.searches),
        rounded(page.difficultyFrom),
        rounded(page.difficultyTo),
        page.cpc === null ? null : Math.round(page.cpc * 100) / 100,
        rounded(page.visitsNow),
        rounded(page.visits),
        rounded(page.low),
        rounded(page.high),
        page.themes.join(', '),
        page.remarks,
      ]),
    ),
  ]
}

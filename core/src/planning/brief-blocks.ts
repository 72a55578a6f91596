import type { Block } from '../text/blocks.ts'
import type { BriefLines } from './check-brief.ts'
import { lineLimits, textWidth } from './text-width.ts'

export type BriefPage = {
  title: string
  address: string | null
  work: string
  state: string
  deadline: string | null
  owner: string
  effort: number | null
  visits: number | null
  low: number | null
  high: number | null
  keywords: ReadonlyArray<{ phrase: string; searches: number | null; difficulty: number | null; spot: string | null }>
}
const whole = (value: number): string => Math.round(value).toLocaleString('en')
const known = (value: number | null): string => (value === null ? 'unknown' : whole(value))

/**
 * A page's brief for a writer, in the order in which one works: what the page is for, how it shows among results, what it says, what
 * links to it, what to read.
 */
export function briefBlocks(
  page: BriefPage,
  brief: BriefLines & { remarks: string },
  rivals: ReadonlyArray<{ url: string; title: string; position: number; words: number | null }>,
): Block[] {
  const blocks: Block[] = [{ kind: 'heading', level: 1, text: page.title }]
  const facts = [
    page.work,
    `state: ${page.state}`,
    ...(page.deadline ? [`due ${page.deadline}`] : []),
    ...(page.owner ? [`owner: ${page.owner}`] : []),
    ...(page.effort === null ? [] : [`${page.effort} days of work`]),
  ]
  blocks.push({ kind: 'text', text: facts.join(' · ') })
  const line = (title: string, text: string, ...more: string[]): void => {
    if (text)
      blocks.push({ kind: 'heading', level: 2, text: title }, { kind: 'text', text: [text, ...more].join('\n\n') })
  }
  const list = (title: string, items: string[], ordered = false): void => {
    if (items.length) blocks.push({ kind: 'heading', level: 2, text: title }, { kind: 'list', ordered, items })
  }
  if (page.visits !== null)
    line(
      'What it should bring',
      `About ${whole(page.visits)} visits a month${page.low === null || page.high === null ? '' : `, likely ${whole(page.low)} to ${whole(page.high)}`}.`,
    )
  line('Address', page.address ?? '')
  line('Title', brief.title, widthLine(brief.title, lineLimits.title.size, lineLimits.title.desktop))
  line(
    'Description',
    brief.description,
    widthLine(brief.description, lineLimits.description.size, lineLimits.description.desktop),
  )
  if (page.keywords.length) {
    blocks.push({ kind: 'heading', level: 2, text: 'Keywords' })
    blocks.push({
      kind: 'table',
      rows: [
        ['Keyword', 'Searches a month', 'Difficulty', 'Goes to'],
        ...page.keywords.map((each, i) => [
          i === 0 ? `${each.phrase} (lead)` : each.phrase,
          known(each.searches),
          known(each.difficulty),
          each.spot ?? 'anywhere',
        ]),
      ],
    })
  }
  list('Headings', [...brief.headings], true)
  list('Terms to cover', [...brief.terms])
  if (brief.wordsFrom !== null || brief.wordsTo !== null)
    line(
      'Length',
      brief.wordsFrom !== null && brief.wordsTo !== null
        ? `${whole(brief.wordsFrom)} to ${whole(brief.wordsTo)} words`
        : brief.wordsTo === null
          ? `From ${whole(brief.wordsFrom!)} words`
          : `Up to ${whole(brief.wordsTo)} words`,
    )
  list(
    'Links to set',
    brief.links.map(({ from, anchor }) => (anchor ? `${from} with "${anchor}"` : from)),
  )
  list(
    'Pages to read',
    rivals.map(
      each =>
        `${each.position}. ${each.title}, ${each.url}${each.words === null ? '' : `, ${whole(each.words)} words`}`,
    ),
  )
  line('Remarks', brief.remarks)
  return blocks
}

const widthLine = (text: string, size: number, limit: number): string => {
  const px = textWidth(text, size)
  return `${whole(px)} of ${whole(limit)} pixels${px > limit ? ': it would be cut' : ''}`
}

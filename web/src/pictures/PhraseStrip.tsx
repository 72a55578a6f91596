export type Match = 'phrase' | 'near' | 'all' | 'some' | 'none'
const shade: Record<Match, string> = { phrase: 's4', near: 's3', all: 's2', some: 's1', none: '' }
const words: Record<Match, string> = {
  phrase: 'whole phrase',
  near: 'all words close together',
  all: 'all words',
  some: 'some words',
  none: 'no word',
}

const fields = ['title', 'headings', 'text', 'address', 'description'] as const
/** Where the phrase stands in a result, field by field; darker is fuller, a line at the bottom is not known. */
export function PhraseStrip({ matches }: { matches: Partial<Record<(typeof fields)[number], Match | undefined>> }) {
  const parts = fields.map(field => ({ field, match: matches[field] }))
  const label = parts.map(({ field, match }) => `${field}: ${match ? words[match] : 'unknown'}`).join('\n')
  return (
    <span className="phrase-strip" role="img" aria-label={label} title={label}>
      {parts.map(({ field, match }) => (
        <i key={field} className={match ? shade[match] : 'unseen'} />
      ))}
    </span>
  )
}

export type Match = 'phrase' | 'near' | 'all' | 'some' | 'none'
const shade: Record<Match, string> = { phrase: 's4', near: 's3', all: 's2', some: 's1', none: '' }
const words: Record<Match, string> = {
  phrase: 'whole phrase',
  near: 'all words close together',
  all: 'all words',
  some: 'some words',
  none: 'no word',
}

/** Where the phrase stands in a result: title, address, description; darker is fuller. */
export function PhraseStrip({
  matches,
}: {
  matches: { title?: Match | undefined; address?: Match | undefined; description?: Match | undefined }
}) {
  const parts = (['title', 'address', 'description'] as const).map(field => ({ field, match: matches[field] }))
  const label = parts.map(({ field, match }) => `${field}: ${match ? words[match] : 'unknown'}`).join('\n')
  return (
    <span className="phrase-strip" role="img" aria-label={label} title={label}>
      {parts.map(({ field, match }) => (
        <i key={field} className={match ? shade[match] : ''} />
      ))}
    </span>
  )
}

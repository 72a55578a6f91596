import { type LinkFigures, type MakeupStrip, makeupStrips } from '@dew-trail/contract/link-lists'
import { languageName } from '@dew-trail/core/links/odd-anchor'
import { AsTable } from '../../pictures/AsTable.tsx'
import { formatShare, formatWhole } from '../../ui/format.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { anchorWords } from './link-columns.tsx'

const stripWords: Record<MakeupStrip | 'anchors', string> = {
  counts: 'Counts',
  shape: 'Shape',
  lands: 'Lands on',
  state: 'State',
  scheme: 'By',
  region: 'Region',
  around: 'Around',
  language: 'Language',
  anchors: 'Words',
}
const keyWords: Record<string, string> = {
  ...anchorWords,
  ugc: 'by users',
  sponsored: 'paid',
  home: 'home page',
  inner: 'inner page',
  there: 'there now',
}
const wordOf = (key: string): string => keyWords[key] ?? languageWords(key) ?? key
/** A language, or a page's and that of words on it which differs; null for what is neither. */
function languageWords(key: string): string | null {
  const codes = /^([a-z]{2})(?::([a-z]{2}))?$/.exec(key)
  if (!codes) return null
  const page = languageName(codes[1]!)
  return codes[2] ? `${languageName(codes[2])} words on ${page}` : page
}
const colours = ['scale3', 'scale2', 'scale1', 'line', 'line', 'line', 'line']
/** Words on a part: they stand out on it in both themes. */
const inks = ['var(--mui-palette-background-default)', '#04100f', 'var(--mui-palette-dew-ink)']

type Part = { key: string; share: number; amount: number }
/** What the links are made of, a strip each, by link or by site, with what is usual among the compared sites. */
export function MakeupStrips({ figures, beside }: { figures: LinkFigures; beside: readonly LinkFigures[] }) {
  const [params, change] = useAddress()
  const bySites = params.get('by') === 'sites'
  const partsOf = (of: LinkFigures, strip: MakeupStrip | 'anchors'): Part[] => {
    const rows = strip === 'anchors' ? of.anchors : of.makeup[strip]
    const amount = (row: { links: number; sites: number }): number => (bySites ? row.sites : row.links)
    const sum = rows.reduce((all, row) => all + amount(row), 0)
    return rows
      .map(row => ({ key: row.key, amount: amount(row), share: sum ? amount(row) / sum : 0 }))
      .sort((a, b) => b.share - a.share)
  }
  const strips = [...makeupStrips, 'anchors' as const].filter(strip => partsOf(figures, strip).length > 0)
  const known = beside.filter(each => each.known)
  const usual = (strip: MakeupStrip | 'anchors', key: string): number | null => {
    if (!known.length) return null
    const shares = known
      .map(each => partsOf(each, strip).find(part => part.key === key)?.share ?? 0)
      .sort((a, b) => a - b)
    return shares[shares.length >> 1]!
  }
  return (
    <section aria-label="What the links are made of">
      <div style={{ display: 'flex', gap: 14, alignItems: 'center', marginBottom: 8 }}>
        <b>What the links are made of</b>
        {(['links', 'sites'] as const).map(each => (
          <button
            key={each}
            type="button"
            className="link"
            aria-pressed={(each === 'sites') === bySites}
            onClick={() => change(setParam('by', each === 'sites' ? 'sites' : null))}
          >
            by {each === 'sites' ? 'site' : 'link'}
          </button>
        ))}
        <AsTable
          of="What the links are made of"
          head={['Part', bySites ? 'sites' : 'links', 'share', 'usual among the compared']}
          rows={() =>
            strips.flatMap(strip =>
              partsOf(figures, strip).map(part => {
                const often = usual(strip, part.key)
                return [
                  `${stripWords[strip]}: ${wordOf(part.key)}`,
                  formatWhole(part.amount),
                  formatShare(part.share),
                  often === null ? null : formatShare(often),
                ]
              }),
            )
          }
        />
      </div>
      {strips.map(strip => (
        <div className="makeup-strip" key={strip}>
          <span className="quiet" style={{ padding: 0 }}>
            {stripWords[strip]}
          </span>
          <div>
            {partsOf(figures, strip).map((part, i) => {
              const often = usual(strip, part.key)
              return (
                <span
                  key={part.key}
                  title={`${wordOf(part.key)}: ${formatWhole(part.amount)}, ${formatShare(part.share)}${often === null ? '' : `; usual among the compared sites ${formatShare(often)}`}`}
                  style={{
                    flex: `${part.share} 0 0`,
                    background: `var(--mui-palette-dew-${colours[i] ?? 'line'})`,
                    color: inks[i] ?? 'var(--mui-palette-dew-ink)',
                  }}
                >
                  <b>
                    {wordOf(part.key)} {formatShare(part.share)}
                  </b>
                </span>
              )
            })}
          </div>
        </div>
      ))}
      {known.length > 0 && <OddParts figures={figures} strips={strips} partsOf={partsOf} usual={usual} />}
    </section>
  )
}

/** Says where the make-up differs most from what is usual among the compared sites. */
function OddParts({
  figures,
  strips,
  partsOf,
  usual,
}: {
  figures: LinkFigures
  strips: ReadonlyArray<MakeupStrip | 'anchors'>
  partsOf(of: LinkFigures, strip: MakeupStrip | 'anchors'): Part[]
  usual(strip: MakeupStrip | 'anchors', key: string): number | null
}) {
  const differences = strips
    .flatMap(strip =>
      partsOf(figures, strip).map(part => ({
        part,
        often: usual(strip, part.key) ?? 0,
        by: Math.abs(part.share - (usual(strip, part.key) ?? 0)),
      })),
    )
    .filter(each => each.by >= 0.15)
    .sort((a, b) => b.by - a.by)
    .slice(0, 2)
  return (
    <p className="quiet" style={{ margin: '6px 0 0' }}>
      {differences.length
        ? `Unlike the compared sites: ${differences.map(({ part, often }) => `${wordOf(part.key)} ${formatShare(part.share)} where ${formatShare(often)} is usual`).join(', ')}.`
        : 'Made up much like the links of the compared sites.'}
    </p>
  )
}

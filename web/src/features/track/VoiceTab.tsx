import { readVoices, type Voice, type VoicePart } from '@dew-trail/contract/track'
import { Link } from 'react-router'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatDay, formatOne, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { TrackBar } from './TrackBar.tsx'
import { VoiceOverTime } from './VoiceOverTime.tsx'

const width = 180
const atFirst = 40

/** Who gets the visits of tracked keywords, and by theme who leads: rivals are read off the results fetched for the own positions. */
export function VoiceTab() {
  const { site, market } = useSite()
  const { data, error } = useEndpoint(readVoices, { siteId: site.id, marketId: market.id }, { keep: true })
  const own = data?.sites.find(each => each.own)
  const most = Math.max(0, ...(data?.sites.map(each => each.share) ?? []))
  return (
    <main className="screen whole">
      <ScreenTitle title="Track" />
      <div className="main">
        <TrackBar see="voice" />
        {!data ? (
          <Waiting error={error} />
        ) : data.sites.length === 0 ? (
          <div className="empty" style={{ flex: 1 }}>
            <h2>No share of voice is known yet</h2>
            <p>
              It is told from the results of tracked keywords with known searches, without further requests.{' '}
              {data.left > 0
                ? `Of ${plural(data.left, 'tracked keyword')} neither is known: check positions once.`
                : 'No keyword is tracked yet.'}
            </p>
          </div>
        ) : (
          <div className="first">
            <section aria-label="Summary">
              <div className="headline">{own ? shareText(own.share) : '0%'}</div>
              <p style={{ margin: '4px 0', maxWidth: 640, lineHeight: '19px' }}>
                of the visits that the first twenty results of {plural(data.keywords, 'tracked keyword')} give go to{' '}
                {site.domain}
                {own?.change ? `, ${changeText(own.change)} since the results before` : ''}.{' '}
                <span className="quiet">
                  Results of{' '}
                  {data.from === data.to ? formatDay(data.to!) : `${formatDay(data.from!)} to ${formatDay(data.to!)}`}
                  {data.left > 0 &&
                    `; ${plural(data.left, 'tracked keyword')} without results or known searches left out`}
                  {data.compared === 0
                    ? '; no earlier results are known, so no change either'
                    : data.compared < data.keywords &&
                      `; changes are over the ${formatWhole(data.compared)} of which earlier results are known`}
                  .
                </span>
              </p>
            </section>
            <table className="results whole-cells" style={{ maxWidth: 980 }}>
              <thead>
                <tr>
                  <th>Site</th>
                  <th>share of voice</th>
                  <th className="n">change</th>
                  <th className="n">visits/mo</th>
                  <th className="n">within 3</th>
                  <th className="n">within 10</th>
                  <th className="n">within 20</th>
                </tr>
              </thead>
              <tbody>
                {data.sites.map(each => (
                  <VoiceRow key={each.domain} voice={each} most={most} />
                ))}
              </tbody>
            </table>
            <VoiceOverTime />
            <VoiceParts title="By theme" noun="theme" parts={data.themes} />
            <VoiceParts title="By label" noun="label" parts={data.labels} />
          </div>
        )}
        <div className="foot">
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}

/** The own share of the visits of some parts of the keywords, and who leads in each. */
function VoiceParts({ title, noun, parts }: { title: string; noun: string; parts: readonly VoicePart[] }) {
  const { site } = useSite()
  if (!parts.length) return null
  return (
    <>
      <h2>{title}</h2>
      <table className="results whole-cells" style={{ maxWidth: 980 }}>
        <thead>
          <tr>
            <th>{upper(noun)}</th>
            <th className="n">keywords</th>
            <th className="n">visits/mo of all</th>
            <th className="n">you</th>
            <th>who leads</th>
            <th className="n">with</th>
          </tr>
        </thead>
        <tbody>
          {parts.slice(0, atFirst).map(each => (
            <tr key={each.name}>
              <td>{each.name}</td>
              <td className="n">{formatWhole(each.keywords)}</td>
              <td className="n">{formatWhole(each.visits)}</td>
              <td className="n own">{shareText(each.own)}</td>
              <td className={each.leader === site.domain ? 'own' : ''}>{each.leader}</td>
              <td className="n">{shareText(each.leaderShare)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {parts.length > atFirst && (
        <p className="quiet">{plural(parts.length - atFirst, noun)} with fewer visits are not listed.</p>
      )}
    </>
  )
}
const upper = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

const shareText = (share: number): string => `${formatOne(share * 100)}%`
const changeText = (change: number): string => {
  const points = formatOne(Math.abs(change) * 100)
  return points === '0' ? 'the same' : `${change > 0 ? 'up' : 'down'} ${points} points`
}

function VoiceRow({ voice, most }: { voice: Voice; most: number }) {
  const { site, market } = useSite()
  return (
    <tr className={voice.own ? 'own-result' : ''}>
      <td>
        <Link
          className="link"
          to={`/${site.id}/rivals?market=${market.id}&of=${encodeURIComponent(voice.domain)}&see=keywords`}
        >
          <span className="cut" style={{ maxWidth: 260 }} title={voice.domain}>
            {voice.domain}
          </span>
        </Link>
      </td>
      <td>
        <span className="bar-picture">
          <svg width={width} height="8" aria-hidden="true">
            <rect
              width={most > 0 ? Math.max(1, (voice.share / most) * width) : 0}
              height="8"
              rx="2"
              fill={voice.own ? 'var(--mui-palette-dew-own)' : 'var(--mui-palette-dew-scale2)'}
            />
          </svg>
          {shareText(voice.share)}
        </span>
      </td>
      <td className="n">
        {voice.change === null ? (
          <span className="unknown" title="No earlier results are known">
            –
          </span>
        ) : (
          <span className={voice.change < -0.0005 ? 'fall' : ''}>{changeText(voice.change)}</span>
        )}
      </td>
      <td className="n">{formatWhole(voice.visits)}</td>
      <td className="n">{formatWhole(voice.within3)}</td>
      <td className="n">{formatWhole(voice.within10)}</td>
      <td className="n">{formatWhole(voice.within20)}</td>
    </tr>
  )
}

import {
  type BackupPlan,
  bringBackSite,
  type Keeping,
  readKeeping,
  removeBackup,
  type Retention,
  setBackupPlan,
  setRetention,
  startBackup,
} from '@dew-trail/contract/keeping'
import { listSites } from '@dew-trail/contract/sites'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { askAgain, useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatDay, formatMoment, formatTime, formatWhole } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { useMe } from '../../ui/use-me.ts'

const spaceWords: Record<Keeping['space'][number]['kind'], string> = {
  keywords: 'Keywords and their figures',
  results: 'Result pages and rankings',
  resultTexts: 'Titles and snippets of result pages',
  positions: 'Positions',
  links: 'Links and standings',
  pageTexts: 'Texts of crawled pages',
  logs: 'Logs of work and of who did what',
  other: 'Everything else',
}
const megabytes = (bytes: number): string =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${formatWhole(Math.round(bytes / 1e6))} MB`

/** How data is kept: backups, the space it takes, for how long, removed sites; the way to take all of a site out. */
export function KeepingSection() {
  const me = useMe()
  const { site } = useSite()
  return (
    <section aria-labelledby="keeping-title">
      <h2 id="keeping-title">Keeping</h2>
      {me?.isOwner && (
        <p>
          <a className="link" href={`/api/sites/${site.id}/everything.zip`}>
            Everything of {site.domain} as CSV files
          </a>{' '}
          <span className="quiet">
            in one ZIP: keywords, plan, positions day by day, and all rows as they are stored
          </span>
        </p>
      )}
      {me?.isAdministrator ? <Kept /> : <p className="quiet">Backups and space are an administrator's.</p>}
    </section>
  )
}

function Kept() {
  const { data, error } = useEndpoint(readKeeping, {})
  if (!data) return <Waiting error={error} />
  return (
    <div className="keeping">
      <div>
        <Backups {...data} />
      </div>
      <div>
        <Space {...data} />
      </div>
      {data.removed.length > 0 && <Removed removed={data.removed} />}
      {data.unreadableSecrets > 0 && (
        <p className="fall">
          {formatWhole(data.unreadableSecrets)} typed keys or secrets are sealed with the key of another installation,
          as after a backup was restored: type them again, or put its secret-key into the data folder.
        </p>
      )}
    </div>
  )
}

function Backups({ backups, folder, plan, nextAt }: Keeping) {
  const act = useAct()
  const client = useQueryClient()
  const set = (change: Partial<BackupPlan>) =>
    act(async () => {
      const { nextAt: next } = await call(setBackupPlan, { ...plan, ...change })
      await askAgain(client, readKeeping)
      return {
        say: next === null ? 'No backups are made by themselves' : `The next backup is made ${formatMoment(next)}`,
      }
    })
  return (
    <>
      <h3>Backups</h3>
      <p className="quiet">
        They stand in <code>{folder}</code>: bring them to another disk too. Typed keys are in them only sealed; the
        file <code>secret-key</code> that opens them is not.
      </p>
      <div className="people-form" style={{ alignItems: 'center' }}>
        <ActButton
          onAct={async () => {
            const job = await call(startBackup, {})
            return { say: job.state === 'waiting' ? 'A backup is being made' : 'A backup is being made already' }
          }}
        >
          Make one now
        </ActButton>
        <label style={{ paddingTop: 0 }}>
          By themselves{' '}
          <select value={plan.every} onChange={event => void set({ every: event.target.value as BackupPlan['every'] })}>
            <option value="never">never</option>
            <option value="day">every day</option>
            <option value="week">every Sunday</option>
          </select>
        </label>
        {plan.every !== 'never' && (
          <>
            <label style={{ paddingTop: 0 }}>
              at{' '}
              <select value={plan.hour} onChange={event => void set({ hour: Number(event.target.value) })}>
                {Array.from({ length: 24 }, (_, hour) => (
                  <option key={hour} value={hour}>
                    {`${hour}:00 UTC`}
                  </option>
                ))}
              </select>
            </label>
            <Keep plan={plan} onSet={keep => void set({ keep })} />
          </>
        )}
        {nextAt && <span className="quiet">next {formatMoment(nextAt)}</span>}
      </div>
      {backups.length === 0 ? (
        <p className="quiet">No backup yet.</p>
      ) : (
        <table className="results whole-cells">
          <tbody>
            {backups.map(({ name, bytes, madeAt }) => (
              <tr key={name}>
                <td>
                  {formatDay(madeAt.slice(0, 10))}, {formatTime(madeAt)}
                </td>
                <td className="n">{megabytes(bytes)}</td>
                <td className="quiet">{name.endsWith('-auto.dump') ? 'by itself' : 'by hand'}</td>
                <td>
                  <a className="link" href={`/api/backups/${name}`} download>
                    Download
                  </a>
                </td>
                <td>
                  <RemoveBackup name={name} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  )
}

function Keep({ plan, onSet }: { plan: BackupPlan; onSet(keep: number): void }) {
  const [typed, setTyped] = useState(String(plan.keep))
  const keep = Number(typed)
  const isRight = Number.isInteger(keep) && keep >= 1 && keep <= 365
  return (
    <label style={{ paddingTop: 0 }}>
      keep{' '}
      <input
        type="number"
        min={1}
        max={365}
        value={typed}
        aria-invalid={!isRight}
        style={{ width: 56 }}
        onChange={event => setTyped(event.target.value)}
        onBlur={() => isRight && keep !== plan.keep && onSet(keep)}
      />
    </label>
  )
}

/** A backup is gone for good once removed, so it takes two presses. */
function RemoveBackup({ name }: { name: string }) {
  const [sure, setSure] = useState(false)
  const client = useQueryClient()
  if (!sure)
    return (
      <button type="button" className="link" aria-label={`Remove ${name}`} onClick={() => setSure(true)}>
        Remove
      </button>
    )
  return (
    <>
      <ActButton
        className="link fall"
        label={`Remove ${name} for good`}
        onAct={async () => {
          await call(removeBackup, { name })
          await askAgain(client, readKeeping)
          return { say: `${name} is removed` }
        }}
      >
        For good
      </ActButton>{' '}
      <button type="button" className="link" onClick={() => setSure(false)}>
        Keep
      </button>
    </>
  )
}

const keptWords: ReadonlyArray<[key: keyof Retention, words: string]> = [
  ['results30', 'Results beyond the 30th, of months gone by'],
  ['results10', 'Results beyond the 10th, of months gone by'],
  ['results', 'All results of months gone by'],
  ['resultTexts', 'Titles and snippets of older result pages'],
  ['pageTexts', 'Texts of crawled pages'],
  ['workLog', 'Log of work'],
  ['activity', 'Log of who did what'],
]
/** Bytes that would be free if a row were kept no longer; null where that is not known apart. */
const bytesOfKept = (key: keyof Retention, { space, resultDepths }: Keeping): number | null => {
  const { within10, within30, beyond30 } = resultDepths
  if (key === 'results30') return beyond30
  if (key === 'results10') return within30 + beyond30
  if (key === 'results') return within10 + within30 + beyond30
  return key === 'resultTexts' || key === 'pageTexts' ? (space.find(each => each.kind === key)?.bytes ?? 0) : null
}
const choices = [30, 90, 180, 400, 800, 1_600]

function Space(keeping: Keeping) {
  const { space, freeBytes, retention } = keeping
  const act = useAct()
  const client = useQueryClient()
  const most = Math.max(1, ...space.map(each => each.bytes))
  const set = (change: Partial<Retention>) =>
    act(async () => {
      await call(setRetention, { ...retention, ...change })
      await askAgain(client, readKeeping)
      return { say: 'What is over goes in the coming night', undo: () => call(setRetention, retention) }
    })
  return (
    <>
      <h3>Space</h3>
      <table className="results whole-cells">
        <tbody>
          {space.map(({ kind, bytes }) => (
            <tr key={kind}>
              <td>{spaceWords[kind]}</td>
              <td style={{ width: 120 }}>
                <span className="space-bar" style={{ width: `${(100 * bytes) / most}%` }} />
              </td>
              <td className="n">{megabytes(bytes)}</td>
            </tr>
          ))}
          {freeBytes !== null && (
            <tr>
              <td className="quiet">Free on the disk</td>
              <td />
              <td className="n quiet">{megabytes(freeBytes)}</td>
            </tr>
          )}
        </tbody>
      </table>
      <h3>Kept for</h3>
      <table className="results whole-cells">
        <tbody>
          {keptWords.map(([key, words]) => {
            const bytes = bytesOfKept(key, keeping)
            return (
              <tr key={key}>
                <td>{words}</td>
                <td className="n quiet">{bytes === null ? '' : `about ${megabytes(bytes)}`}</td>
                <td>
                  <select
                    aria-label={`${words}: kept for`}
                    value={retention[key] ?? ''}
                    onChange={event => void set({ [key]: event.target.value ? Number(event.target.value) : null })}
                  >
                    <option value="">ever</option>
                    {[...new Set([...choices, ...(retention[key] === null ? [] : [retention[key]])])]
                      .sort((a, b) => a - b)
                      .map(days => (
                        <option key={days} value={days}>
                          {formatWhole(days)} days
                        </option>
                      ))}
                  </select>
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
      <p className="quiet">
        Positions, keywords, the plan and the newest result page of each keyword always stay. A site that is added to
        the rivals later gets its history from the results kept: what is beyond the 10th is then not known of days for
        which it was let go. The space of a depth is reckoned from a sample.
      </p>
    </>
  )
}

function Removed({ removed }: Pick<Keeping, 'removed'>) {
  const client = useQueryClient()
  return (
    <div>
      <h3>Removed sites</h3>
      <table className="results whole-cells">
        <tbody>
          {removed.map(({ siteId, domain, goesAt }) => (
            <tr key={siteId}>
              <td>{domain}</td>
              <td className="quiet">goes for good {formatMoment(goesAt)}</td>
              <td>
                <ActButton
                  label={`Bring ${domain} back`}
                  onAct={async () => {
                    await call(bringBackSite, { removedId: siteId })
                    await askAgain(client, readKeeping, listSites)
                    return { say: `${domain} is back, with all its data` }
                  }}
                >
                  Bring back
                </ActButton>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

import {
  addAlertRule,
  type AlertKind,
  alertKinds,
  alertNames,
  type AlertRule,
  changeAlertRule,
  ofKeywords,
  readAlertSettings,
  removeAlertRule,
  renewAlertFeed,
  setAlertMail,
} from '@dew-trail/contract/alerts'
import { Button, MenuItem, Select, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useLists } from '../../keywords/use-lists.ts'
import { formatDay } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { useChange } from '../../ui/use-change.ts'

/** Alert rules, by label where they are about keywords; mail and feed. */
export function AlertRules() {
  const { site } = useSite()
  const { data, error } = useEndpoint(readAlertSettings, { siteId: site.id })
  const act = useAct()
  const [kind, setKind] = useState<AlertKind>('leftFirstPage')
  const adding = useChange()
  if (!data) return <aside className="alert-rules">{error && <p className="fall">{error.message}</p>}</aside>
  const add = () =>
    act(async () => {
      const { actId } = await call(addAlertRule, {
        siteId: site.id,
        kind,
        least: kind === 'visibility' ? 3 : null,
      })
      return { say: 'The rule is added', actId }
    })
  return (
    <aside className="alert-rules" aria-label="Alert rules">
      <h2>Alert rules</h2>
      <ul>
        {data.rules.map(rule => (
          <RuleLine key={`${rule.id} ${rule.version}`} rule={rule} />
        ))}
      </ul>
      <div className="rule-add">
        <Select
          size="small"
          value={kind}
          onChange={event => setKind(event.target.value as AlertKind)}
          slotProps={{ input: { 'aria-label': 'Rule to add' } }}
        >
          {alertKinds.map(each => (
            <MenuItem key={each} value={each}>
              {alertNames[each]}
            </MenuItem>
          ))}
        </Select>
        <Button disabled={adding.pending} onClick={() => void adding.run(add)}>
          Add
        </Button>
      </div>
      <h2>By mail</h2>
      <MailForm key={data.address ?? ''} mails={data.mails} address={data.address} />
      {data.mailError && <p className="fall">The last mail was not sent: {data.mailError}</p>}
      <h2>In a feed reader</h2>
      {data.feed.address ? (
        <>
          <input
            className="secret-address"
            readOnly
            aria-label="Address of the feed"
            value={`${location.origin}${data.feed.address}`}
            onFocus={event => event.target.select()}
          />
          <p className="quiet" style={{ margin: '4px 0' }}>
            Whoever knows it reads the alerts. Made on {formatDay(data.feed.madeOn!)}.
          </p>
          <button
            type="button"
            className="link"
            onClick={() =>
              void act(async () => {
                await call(renewAlertFeed, { siteId: site.id })
                return { say: 'The feed has a new address; the one before has ended' }
              })
            }
          >
            New address
          </button>{' '}
          <button
            type="button"
            className="link"
            onClick={() =>
              void act(async () => {
                await call(renewAlertFeed, { siteId: site.id, end: true })
                return { say: 'The address has ended' }
              })
            }
          >
            End it
          </button>
        </>
      ) : (
        <button
          type="button"
          className="link"
          onClick={() => void act(async () => void (await call(renewAlertFeed, { siteId: site.id })))}
        >
          Make a secret address (Atom)
        </button>
      )}
    </aside>
  )
}

function RuleLine({ rule }: { rule: AlertRule }) {
  const { site } = useSite()
  const act = useAct()
  const { lists: labels } = useLists('label')
  const [least, setLeast] = useState(String(rule.least ?? 3))
  const change = (what: Partial<Pick<AlertRule, 'active' | 'least' | 'listId'>>) =>
    void act(async () => {
      const { actId } = await call(changeAlertRule, {
        siteId: site.id,
        ruleId: rule.id,
        version: rule.version,
        ...what,
      })
      return { say: 'The rule is changed', actId }
    })
  const name = alertNames[rule.kind]
  const number = Number(least)
  const isRight = number >= 0.1 && number <= 100
  return (
    <li>
      <label>
        <input type="checkbox" checked={rule.active} onChange={event => change({ active: event.target.checked })} />{' '}
        {name}
      </label>
      <span>
        {rule.kind === 'visibility' && (
          <>
            by{' '}
            <input
              type="number"
              min="0.1"
              max="100"
              step="0.1"
              value={least}
              aria-label={`${name}: points in seven days`}
              aria-invalid={!isRight}
              onChange={event => setLeast(event.target.value)}
              onBlur={() => isRight && number !== rule.least && change({ least: number })}
              style={{ width: 52 }}
            />{' '}
            points in 7 days
          </>
        )}
        {ofKeywords.includes(rule.kind) && (labels.length > 0 || rule.listId !== null) && (
          <select
            aria-label={`${name}: of which keywords`}
            value={rule.listId ?? ''}
            onChange={event => change({ listId: event.target.value ? Number(event.target.value) : null })}
          >
            <option value="">all keywords</option>
            {labels.map(each => (
              <option key={each.id} value={each.id}>
                {each.name}
              </option>
            ))}
          </select>
        )}
      </span>
      <button
        type="button"
        className="link"
        aria-label={`Remove "${name}"`}
        onClick={() =>
          void act(async () => {
            const { actId } = await call(removeAlertRule, { siteId: site.id, ruleId: rule.id })
            return { say: 'The rule is removed, with what it told', actId }
          })
        }
      >
        Remove
      </button>
    </li>
  )
}

function MailForm({ mails, address }: { mails: boolean; address: string | null }) {
  const { site } = useSite()
  const act = useAct()
  const saving = useChange()
  const [typed, setTyped] = useState(address ?? '')
  if (!mails)
    return (
      <p className="quiet" style={{ margin: 0 }}>
        No mail server is set. With SMTP_URL the day's alerts are mailed each morning (docs/configuration.md).
      </p>
    )
  const save = (event: FormEvent) => {
    event.preventDefault()
    void saving.run(() =>
      act(async () => {
        await call(setAlertMail, { siteId: site.id, address: typed.trim() || null })
        return { say: typed.trim() ? 'Alerts are mailed each morning' : 'Alerts are no longer mailed' }
      }),
    )
  }
  return (
    <form onSubmit={save} style={{ display: 'flex', gap: 8 }}>
      <TextField
        size="small"
        type="email"
        label="Each morning to"
        value={typed}
        onChange={event => setTyped(event.target.value)}
        fullWidth
      />
      <Button type="submit" disabled={saving.pending || typed.trim() === (address ?? '')}>
        Save
      </Button>
    </form>
  )
}

import {
  addWebHook,
  changeWebHook,
  type Delivery,
  hookEventNames,
  type HookEvent,
  hookEvents,
  listWebHooks,
  removeWebHook,
  retryDelivery,
  testWebHook,
  type WebHook,
} from '@dew-trail/contract/web-hooks'
import { Button, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatAge, formatMoment } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { useChange } from '../../ui/use-change.ts'
import { SecretOnce } from './SecretOnce.tsx'

/** Addresses that are told of alerts and finished work, and what was sent to them. */
export default function HooksPart() {
  const { site } = useSite()
  const { data, error } = useEndpoint(listWebHooks, { siteId: site.id })
  if (!data) return <Waiting error={error} />
  return (
    <>
      <section aria-labelledby="hooks-title">
        <h2 id="hooks-title">Web hooks</h2>
        <p className="quiet">
          Each minute, what happened is sent as JSON by POST, signed with the hook's secret (docs/running.md says how to
          check it). What is not answered with 200 to 299 is tried five times more within a day.
        </p>
        {data.hooks.length === 0 ? (
          <p className="quiet">No web hook yet.</p>
        ) : (
          <table className="results whole-cells people-table">
            <thead>
              <tr>
                <th>Address</th>
                <th>Tells of</th>
                <th>Last delivered</th>
                <th>Last failure</th>
                <th>
                  <span className="hidden">What can be done</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {data.hooks.map(each => (
                <HookLine key={each.id} hook={each} />
              ))}
            </tbody>
          </table>
        )}
      </section>
      <NewHook />
      {data.deliveries.length > 0 && (
        <section aria-labelledby="sent-title">
          <h2 id="sent-title">What was sent</h2>
          <table className="results whole-cells people-table">
            <thead>
              <tr>
                <th>When</th>
                <th>Event</th>
                <th>What</th>
                <th>State</th>
                <th>
                  <span className="hidden">Try again</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {data.deliveries.map(each => (
                <DeliveryLine key={each.id} delivery={each} />
              ))}
            </tbody>
          </table>
        </section>
      )}
    </>
  )
}

function HookLine({ hook }: { hook: WebHook }) {
  const { site } = useSite()
  const { id: hookId, address, events, active, version, lastGoodAt, lastFailure } = hook
  return (
    <tr className={active ? '' : 'quiet'}>
      <td>
        <span className="cut" style={{ maxWidth: 320 }} title={address}>
          {address}
        </span>
      </td>
      <td>{events.map(each => hookEventNames[each].toLowerCase()).join(', ')}</td>
      <td className="quiet">{lastGoodAt === null ? 'not yet' : formatAge(lastGoodAt)}</td>
      <td className={lastFailure ? 'fall' : 'quiet'}>
        {lastFailure ? `${formatAge(lastFailure.at)}: ${lastFailure.what}` : 'none'}
      </td>
      <td style={{ whiteSpace: 'nowrap' }}>
        <ActButton
          label={`Send a test to ${address}`}
          onAct={async () => {
            const { delivered, what } = await call(testWebHook, { siteId: site.id, hookId })
            if (!delivered) throw new Error(`The test did not come through: ${what}`)
            return { say: 'The test came through' }
          }}
        >
          Test
        </ActButton>{' '}
        <ActButton
          label={`${active ? 'Pause' : 'Take up'} ${address}`}
          onAct={async () => {
            await call(changeWebHook, { siteId: site.id, hookId, version, active: !active })
            return { say: active ? 'The hook is paused; what happens meanwhile is not told' : 'The hook is told again' }
          }}
        >
          {active ? 'Pause' : 'Take up'}
        </ActButton>{' '}
        <ActButton
          label={`Remove ${address}`}
          onAct={async () => {
            await call(removeWebHook, { siteId: site.id, hookId })
            return { say: 'The hook is removed, with what it sent' }
          }}
        >
          Remove
        </ActButton>
      </td>
    </tr>
  )
}

function NewHook() {
  const { site } = useSite()
  const act = useAct()
  const [address, setAddress] = useState('')
  const [events, setEvents] = useState<HookEvent[]>(['alert', 'jobFailed'])
  const [secret, setSecret] = useState<string | null>(null)
  const adding = useChange()
  const add = (event: FormEvent) => {
    event.preventDefault()
    void adding.run(() =>
      act(async () => {
        const made = await call(addWebHook, { siteId: site.id, address, events })
        setSecret(made.secret)
        setAddress('')
      }),
    )
  }
  return (
    <section aria-labelledby="new-hook-title">
      <h2 id="new-hook-title">A new web hook</h2>
      <form onSubmit={add} className="people-form">
        <TextField
          label="Address"
          type="url"
          required
          placeholder="https://"
          value={address}
          onChange={event => setAddress(event.target.value)}
          sx={{ width: 380 }}
        />
        {hookEvents.map(each => (
          <label key={each}>
            <input
              type="checkbox"
              checked={events.includes(each)}
              onChange={event =>
                setEvents(before => (event.target.checked ? [...before, each] : before.filter(other => other !== each)))
              }
            />{' '}
            {hookEventNames[each]}
          </label>
        ))}
        <Button type="submit" variant="contained" disabled={adding.pending || !events.length}>
          Add
        </Button>
      </form>
      {secret && (
        <SecretOnce secret={secret} onDone={() => setSecret(null)}>
          This secret signs what is sent, so that the receiver can tell that it is ours. It is not shown again.
        </SecretOnce>
      )}
    </section>
  )
}

function DeliveryLine({ delivery }: { delivery: Delivery }) {
  const { site } = useSite()
  const { id, hookId, event, title, madeAt, state, tries, nextTryAt, what } = delivery
  return (
    <tr>
      <td className="quiet">{formatMoment(madeAt)}</td>
      <td>{event === 'test' ? 'Test' : hookEventNames[event]}</td>
      <td>{title}</td>
      <td className={state === 'failed' ? 'fall' : state === 'waiting' ? 'quiet' : ''}>
        {state === 'waiting' && tries === 0 ? 'goes out within a minute' : state}
        {state === 'waiting' && tries > 0 && nextTryAt && `, tried ${tries} times, again ${formatMoment(nextTryAt)}`}
        {what && `: ${what}`}
      </td>
      <td>
        {state === 'failed' && event !== 'test' && (
          <ActButton
            label={`Try "${title}" again`}
            onAct={async () => {
              await call(retryDelivery, { siteId: site.id, hookId, deliveryId: id })
              return { say: 'It is tried again within a minute' }
            }}
          >
            Try again
          </ActButton>
        )}
      </td>
    </tr>
  )
}

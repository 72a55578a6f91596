import { changeProspect, type Prospect, prospectStates } from '@dew-trail/contract/prospects'
import { listPages } from '@dew-trail/contract/plan'
import { MenuItem, TextField } from '@mui/material'
import { useId, useRef, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { today } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { useMembers } from '../../ui/use-members.ts'
import { stateWords } from './link-columns.tsx'

type Field = 'contact' | 'owner' | 'page' | 'target' | 'anchor' | 'remarks' | 'nextDay'
const fields: Array<{ key: Field; label: string; wide?: boolean; type?: string }> = [
  { key: 'contact', label: 'Contact' },
  { key: 'owner', label: 'Owner' },
  { key: 'nextDay', label: 'Next day', type: 'date' },
  { key: 'page', label: 'On page' },
  { key: 'target', label: 'Page to link' },
  { key: 'anchor', label: 'Wished words' },
  { key: 'remarks', label: 'Remarks', wide: true },
]
/** Fields that are null, not empty, when nothing stands in them. */
const orNull: ReadonlySet<Field> = new Set<Field>(['contact', 'page', 'target', 'nextDay'])

/** What is written down about a prospect; each field is saved as it is left. */
export function ProspectDetails({ prospect }: { prospect: Prospect }) {
  const { site, market } = useSite()
  const plan = useEndpoint(listPages, { siteId: site.id, marketId: market.id, today: today() }).data
  const members = useMembers()
  const list = useId()
  const act = useAct()
  /** Texts that are being written, by field; the others are as they were saved. */
  const [draft, setDraft] = useState<Partial<Record<Field, string>>>({})
  /** One's own changes are saved one after another, each on the version that the one before made: fields are left faster than that is heard. */
  const latest = useRef(prospect.version)
  latest.current = Math.max(latest.current, prospect.version)
  const saving = useRef<Promise<void>>(Promise.resolve())
  const save = (change: Partial<Omit<Prospect, 'id' | 'version'>>, done?: () => void) => {
    saving.current = saving.current.then(() =>
      act(async () => {
        const { version } = await call(changeProspect, {
          siteId: site.id,
          prospectId: prospect.id,
          version: latest.current,
          ...change,
        })
        latest.current = Math.max(latest.current, version)
        done?.()
      }),
    )
    return saving.current
  }
  const leave = (key: Field) => {
    const text = draft[key]
    if (text === undefined) return
    const forget = () =>
      setDraft(before => Object.fromEntries(Object.entries(before).filter(([each]) => each !== key)) as typeof before)
    if (text === (prospect[key] ?? '')) forget()
    else void save({ [key]: orNull.has(key) ? text || null : text }, forget)
  }
  // Pages of the plan that can be linked, those that most visits are expected of first.
  const pages = (plan ?? []).filter(page => page.address !== null).toSorted((a, b) => (b.visits ?? 0) - (a.visits ?? 0))
  const addressOf = (page: (typeof pages)[number]): string => new URL(page.address!, `https://${site.domain}`).href
  const chosen = pages.find(page => addressOf(page) === (draft.target ?? prospect.target))
  const proposed = prospect.target === null ? pages[0] : undefined
  const options: Partial<Record<Field, Array<{ value: string; label: string }>>> = {
    owner: members.map(each => ({ value: each.name, label: each.role })),
    target: pages.map(page => ({ value: addressOf(page), label: page.title })),
    anchor: (chosen ? [chosen] : pages).flatMap(page =>
      page.keywords.slice(0, chosen ? 20 : 1).map(each => ({ value: each.phrase, label: page.title })),
    ),
  }
  return (
    <div className="prospect-fields">
      <TextField
        select
        label="State"
        value={prospect.state}
        onChange={event => void save({ state: event.target.value as Prospect['state'] })}
      >
        {prospectStates.map(state => (
          <MenuItem key={state} value={state}>
            {stateWords[state]}
          </MenuItem>
        ))}
      </TextField>
      {fields.map(({ key, label, wide, type }) => (
        <TextField
          key={key}
          label={label}
          {...(type ? { type } : {})}
          slotProps={{
            ...(type ? { inputLabel: { shrink: true } } : {}),
            htmlInput: options[key] ? { list: `${list}${key}` } : {},
          }}
          multiline={wide === true}
          className={wide ? 'wide' : ''}
          value={draft[key] ?? prospect[key] ?? ''}
          onChange={event => setDraft(before => ({ ...before, [key]: event.target.value }))}
          onBlur={() => leave(key)}
        />
      ))}
      {Object.entries(options).map(([key, values]) => (
        <datalist key={key} id={`${list}${key}`}>
          {values.map(each => (
            <option key={each.value} value={each.value}>
              {each.label}
            </option>
          ))}
        </datalist>
      ))}
      {proposed && (
        <p className="quiet wide" style={{ margin: 0 }}>
          Proposed from the plan: {proposed.title}
          {proposed.keywords[0] && `, with the words "${proposed.keywords[0].phrase}"`}.{' '}
          <button
            type="button"
            className="link"
            onClick={() =>
              void save({
                target: addressOf(proposed),
                ...(prospect.anchor ? {} : { anchor: proposed.keywords[0]?.phrase ?? '' }),
              })
            }
          >
            Take it
          </button>
        </p>
      )}
      {prospect.contact !== null && (
        <button type="button" className="link" onClick={() => void save({ contact: null })}>
          Forget this contact
        </button>
      )}
    </div>
  )
}

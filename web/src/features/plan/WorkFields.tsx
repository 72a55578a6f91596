import { type PageState, pageStates, type PlannedPage, type WorkKind, workKinds } from '@dew-trail/contract/plan'
import { Checkbox, FormControlLabel, MenuItem, TextField } from '@mui/material'
import { useId } from 'react'
import { useMembers } from '../../ui/use-members.ts'
import { kindLabels, stateLabels } from './plan-words.ts'
import { usePageDraft } from './use-page-draft.ts'
import { usePlan } from './use-plan.ts'

const shrink = { inputLabel: { shrink: true } }

/** What can be said of the work on a page. Changes are saved as a field is left. */
export function WorkFields({ page }: { page: PlannedPage }) {
  const { change, field } = usePageDraft(page)
  const { pages } = usePlan()
  const members = useMembers()
  const ownerList = useId()
  return (
    <div className="work-fields">
      <TextField label="Name" {...field('title')} />
      <TextField label="Address" placeholder="/guides/…" {...field('address')} />
      <div className="two">
        <TextField
          select
          fullWidth
          label="What to do"
          value={page.kind}
          onChange={event => void change({ kind: event.target.value as WorkKind })}
        >
          {workKinds.map(kind => (
            <MenuItem key={kind} value={kind}>
              {kindLabels[kind]}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          fullWidth
          label="State"
          value={page.state}
          disabled={page.kind === 'keep'}
          onChange={event => void change({ state: event.target.value as PageState })}
        >
          {pageStates.map(state => (
            <MenuItem key={state} value={state}>
              {stateLabels[state]}
            </MenuItem>
          ))}
        </TextField>
      </div>
      {page.kind === 'merge' && (
        <TextField
          select
          label="Into"
          value={page.mergeInto ?? ''}
          onChange={event => void change({ mergeInto: event.target.value === '' ? null : Number(event.target.value) })}
        >
          <MenuItem value="">
            <i>not decided</i>
          </MenuItem>
          {(pages ?? [])
            .filter(each => each.id !== page.id)
            .map(each => (
              <MenuItem key={each.id} value={each.id}>
                {each.title}
              </MenuItem>
            ))}
        </TextField>
      )}
      <div className="two">
        <TextField fullWidth type="date" label="Deadline" {...field('deadline')} slotProps={shrink} />
        <TextField fullWidth type="date" label="Not before" {...field('notBefore')} slotProps={shrink} />
      </div>
      <div className="two">
        <TextField fullWidth label="Owner" {...field('owner')} slotProps={{ htmlInput: { list: ownerList } }} />
        <datalist id={ownerList}>
          {members.map(each => (
            <option key={each.accountId} value={each.name}>
              {each.role}
            </option>
          ))}
        </datalist>
        <TextField
          fullWidth
          type="number"
          label="Days of work"
          {...field('effort')}
          slotProps={{ htmlInput: { min: 0.5, step: 0.5 } }}
        />
      </div>
      <FormControlLabel
        control={
          <Checkbox size="small" checked={page.mustBeIn} onChange={(_, mustBeIn) => void change({ mustBeIn })} />
        }
        label="Must be in what comes first"
      />
      <TextField label="Remarks" multiline minRows={2} {...field('remarks')} />
    </div>
  )
}

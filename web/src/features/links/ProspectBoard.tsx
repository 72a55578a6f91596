import { type Prospect, prospectStates } from '@dew-trail/contract/prospects'
import { MenuItem, TextField } from '@mui/material'
import { formatDay, formatWhole } from '../../ui/format.ts'
import { stateWords } from './link-columns.tsx'

type Props = {
  prospects: readonly Prospect[]
  /** What is due by then is marked. */
  today: string
  onMove(prospect: Prospect, to: Prospect['state']): Promise<void>
}
/** Prospects by their state, a column a state, the next due first; each is moved by dragging, or by choosing another state. */
export function ProspectBoard({ prospects, today, onMove }: Props) {
  return (
    <section className="board" aria-label="Prospects by state">
      {prospectStates.map(state => {
        const of = prospects.filter(each => each.state === state)
        return (
          <section
            key={state}
            aria-label={stateWords[state]}
            onDragOver={event => event.preventDefault()}
            onDrop={event => {
              const dropped = prospects.find(each => String(each.id) === event.dataTransfer.getData('text/plain'))
              if (dropped && dropped.state !== state) void onMove(dropped, state)
            }}
          >
            <h2>
              {stateWords[state]} <span className="quiet">{formatWhole(of.length)}</span>
            </h2>
            <ul>
              {of.map(each => (
                <li
                  key={each.id}
                  draggable
                  onDragStart={event => event.dataTransfer.setData('text/plain', String(each.id))}
                >
                  <b title={each.domain}>{each.domain}</b>
                  <span className="quiet">
                    {each.standing === null ? 'standing unknown' : `standing ${Math.round(each.standing)}`}
                    {each.linksToOwn ? ', links to you' : ''}
                    {each.owner && ` · ${each.owner}`}
                  </span>
                  {each.nextDay !== null && (
                    <span className={each.nextDay <= today ? 'fall' : 'quiet'}>next {formatDay(each.nextDay)}</span>
                  )}
                  {each.remarks && <span className="board-remarks">{each.remarks}</span>}
                  <TextField
                    select
                    value={state}
                    onChange={event => void onMove(each, event.target.value as Prospect['state'])}
                    slotProps={{ htmlInput: { 'aria-label': `State of ${each.domain}` } }}
                  >
                    {prospectStates.map(to => (
                      <MenuItem key={to} value={to}>
                        {stateWords[to]}
                      </MenuItem>
                    ))}
                  </TextField>
                </li>
              ))}
            </ul>
          </section>
        )
      })}
    </section>
  )
}

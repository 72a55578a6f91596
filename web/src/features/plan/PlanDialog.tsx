import { assignKeywords, createPage, type KeywordSpot, keywordSpots } from '@dew-trail/contract/plan'
import {
  Autocomplete,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  MenuItem,
  Radio,
  RadioGroup,
  TextField,
} from '@mui/material'
import { type FormEvent, useEffect, useState } from 'react'
import { call } from '../../api/call.ts'
import { plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { spotLabels } from './plan-words.ts'
import { usePlan } from './use-plan.ts'

const upper = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

/** Whether a planned page's address, which may be without its site, is that of a page. */
const isAt = (planned: string | null, address: string): boolean =>
  planned !== null && (planned === address || (planned.startsWith('/') && new URL(address).pathname === planned))

type Props = {
  keywordIds: number[]
  /** The page that they are meant for, if it is known: the one in the plan with this address, or else a page the site has. */
  page?: { address: string; title: string | null } | undefined
  onClose(): void
}
/** Puts keywords on a page: one of the plan, a new one, or one that the site already has. */
export default function PlanDialog({ keywordIds, page, onClose }: Props) {
  const { site, keywords } = useSite()
  const { pages } = usePlan()
  const act = useAct()
  const [where, setWhere] = useState<'planned' | 'new' | 'existing'>(page ? 'existing' : 'new')
  const [pageId, setPageId] = useState<number | null>(null)
  const [title, setTitle] = useState(page?.title ?? '')
  const [address, setAddress] = useState(page?.address ?? '')
  const [deadline, setDeadline] = useState('')
  const [error, setError] = useState<string | null>(null)
  const [lead, setLead] = useState('')
  const [spot, setSpot] = useState<KeywordSpot | ''>('')
  const planned = page && pages?.find(each => isAt(each.address, page.address))?.id
  useEffect(() => {
    if (planned === undefined) return
    setWhere('planned')
    setPageId(planned)
  }, [planned])
  useEffect(() => {
    keywords.rows(keywordIds).then(
      rows => {
        const most = rows.toSorted((a, b) => Number(b.searches ?? 0) - Number(a.searches ?? 0))[0]
        if (most) {
          setLead(String(most.phrase))
          setTitle(before => before || upper(String(most.phrase)))
        }
      },
      () => undefined,
    )
  }, [keywords, keywordIds])
  const save = async (event: FormEvent) => {
    event.preventDefault()
    if (where === 'planned' && pageId === null) {
      setError('Choose a page')
      return
    }
    if (where === 'existing' && !address) {
      setError('Give the address of the page')
      return
    }
    onClose()
    const goes = spot ? { spot } : {}
    await act(async () => {
      const off = (count: number): string =>
        count ? `; ${count === 1 ? 'one was' : `${count} were`} on another page` : ''
      if (where === 'planned') {
        const { actId, takenOff } = await call(assignKeywords, { siteId: site.id, pageId, keywordIds, ...goes })
        const name = pages?.find(each => each.id === pageId)?.title ?? ''
        return { say: `${plural(keywordIds.length, 'keyword')} put on "${name}"${off(takenOff)}`, actId }
      }
      const { actId, takenOff } = await call(createPage, {
        siteId: site.id,
        title,
        address: address || null,
        kind: where === 'existing' ? 'keep' : 'new',
        deadline: deadline || null,
        keywordIds,
        ...goes,
      })
      return { say: `"${title}" is planned with ${plural(keywordIds.length, 'keyword')}${off(takenOff)}`, actId }
    })
  }
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form onSubmit={save}>
        <DialogTitle>
          Put {keywordIds.length === 1 && lead ? `"${lead}"` : plural(keywordIds.length, 'keyword')} on a page
        </DialogTitle>
        <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 4 }}>
          <RadioGroup
            row
            value={where}
            onChange={(_, value) => {
              setWhere(value as typeof where)
              setError(null)
            }}
            aria-label="Which page"
          >
            <FormControlLabel value="new" label="New page" control={<Radio size="small" />} />
            <FormControlLabel
              value="planned"
              label="Planned page"
              control={<Radio size="small" />}
              disabled={!pages?.length}
            />
            <FormControlLabel value="existing" label="Page the site has" control={<Radio size="small" />} />
          </RadioGroup>
          {where === 'planned' ? (
            <Autocomplete
              options={pages ?? []}
              getOptionLabel={each => each.title}
              getOptionKey={each => each.id}
              value={pages?.find(each => each.id === pageId) ?? null}
              onChange={(_, chosen) => {
                setPageId(chosen?.id ?? null)
                setError(null)
              }}
              renderInput={params => (
                <TextField {...params} autoFocus label="Page" error={error !== null} helperText={error} />
              )}
            />
          ) : (
            <>
              <TextField
                autoFocus
                label="Name"
                value={title}
                onChange={event => setTitle(event.target.value)}
                required
              />
              <TextField
                label={where === 'existing' ? 'Address' : 'Address, if decided'}
                placeholder="/guides/choosing-a-kiln"
                value={address}
                onChange={event => {
                  setAddress(event.target.value)
                  setError(null)
                }}
                error={error !== null}
                helperText={error}
              />
              {where === 'new' && (
                <TextField
                  type="date"
                  label="Deadline"
                  value={deadline}
                  onChange={event => setDeadline(event.target.value)}
                  slotProps={{ inputLabel: { shrink: true } }}
                />
              )}
            </>
          )}
          <TextField
            select
            label={keywordIds.length === 1 ? 'It goes to' : 'They go to'}
            value={spot}
            onChange={event => setSpot(event.target.value as KeywordSpot | '')}
            slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
          >
            <MenuItem value="">Anywhere in the page</MenuItem>
            {keywordSpots.map(each => (
              <MenuItem key={each} value={each}>
                {spotLabels[each]}
              </MenuItem>
            ))}
          </TextField>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Close</Button>
          <Button type="submit" variant="contained">
            Put on page
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}

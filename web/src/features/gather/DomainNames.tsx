import { askNames, listNames } from '@dew-trail/contract/gather'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material'
import { useEffect, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

const storeKey = 'domainEndings'
/** Keywords whose names are listed here; the sheet's column tells of all. */
const mostListed = 20

function FreeMark({ free }: { free: boolean | null }) {
  if (free === null)
    return (
      <span className="unknown" title="The registry was not asked, or did not answer">
        not known
      </span>
    )
  return free ? <b className="own">free</b> : <span className="quiet">taken</span>
}

/** Whether the exact-match domain names of keywords are free, for endings of one's choice, which the browser keeps: asked in a job. */
export default function DomainNamesDialog({ ids, onClose }: { ids: number[]; onClose(): void }) {
  const { site, keywords } = useSite()
  const act = useAct()
  const listed = ids.slice(0, mostListed)
  const [phrases, setPhrases] = useState<Array<{ id: number; phrase: string }>>([])
  useEffect(() => {
    keywords.rows(ids.slice(0, mostListed)).then(
      rows => setPhrases(rows.map(row => ({ id: row.id, phrase: String(row.phrase) }))),
      () => undefined,
    )
  }, [keywords, ids])
  const [typed, setTyped] = useState(
    () => localStorage.getItem(storeKey) ?? `.${site.domain.split('.').slice(1).join('.')}`,
  )
  const endings = typed
    .split(/[\s,]+/)
    .map(ending => ending.trim())
    .filter(Boolean)
  const { data, error } = useEndpoint(
    listNames,
    { siteId: site.id, keywordIds: listed, endings },
    { enabled: endings.length > 0, retry: false, keep: true },
  )
  const ask = () =>
    act(async () => {
      await call(askNames, { siteId: site.id, keywordIds: ids, endings })
      return { say: `Asking the registry about ${plural(ids.length, 'keyword')}; the column "Free domain names" tells` }
    })
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Free domain names</DialogTitle>
      <DialogContent>
        <p className="quiet" style={{ marginTop: 0 }}>
          Which keywords still make a domain name that nobody has registered? What the registry says stands here and in
          the columns “Free names” and “Free domain names”, with conditions. It is asked again after a month.
        </p>
        <TextField
          label="Endings, separated by commas"
          value={typed}
          error={Boolean(error)}
          helperText={error?.message}
          sx={{ width: 260, mb: 2 }}
          onChange={event => {
            setTyped(event.target.value)
            localStorage.setItem(storeKey, event.target.value)
          }}
        />
        <table className="results whole-cells" style={{ width: '100%' }}>
          <thead>
            <tr>
              <th scope="col">Keyword</th>
              <th scope="col">Domain name</th>
              <th scope="col">Registry</th>
            </tr>
          </thead>
          <tbody>
            {phrases.flatMap(({ id, phrase }) => {
              const names = data?.filter(each => each.keywordId === id) ?? []
              if (!names.length)
                return [
                  <tr key={id}>
                    <td>{phrase}</td>
                    <td className="quiet">{data ? 'makes no domain name' : ''}</td>
                    <td />
                  </tr>,
                ]
              return names.map((each, i) => (
                <tr key={each.name}>
                  <td>{i ? '' : phrase}</td>
                  <td>{each.name}</td>
                  <td>
                    <FreeMark free={each.free} />
                  </td>
                </tr>
              ))
            })}
          </tbody>
        </table>
        {ids.length > mostListed && (
          <p className="quiet">
            The first {mostListed} of {formatWhole(ids.length)}; the sheet tells of all.
          </p>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button variant="contained" disabled={!endings.length} onClick={ask}>
          Ask about {plural(ids.length, 'keyword')}
        </Button>
      </DialogActions>
    </Dialog>
  )
}

import { useEndpoint } from '../../api/use-endpoint.ts'
import { findNames } from '@dew-trail/contract/gather'
import { Dialog, DialogContent, DialogTitle, IconButton, TextField } from '@mui/material'
import { X } from 'lucide-react'
import { useEffect, useState } from 'react'
import { mostPhrases } from './most-phrases.ts'
import { useSite } from '../../ui/site-context.ts'

const storeKey = 'domainEndings'

/** The endings somebody chose, kept in the browser, and what the registry says of the phrases' names under them. */
function useDomainNames(phrases: string[], wanted: boolean) {
  const { site } = useSite()
  const [endings, setEndings] = useState(
    () => localStorage.getItem(storeKey) ?? `.${site.domain.split('.').slice(1).join('.')}`,
  )
  const list = endings
    .split(/[\s,]+/)
    .map(ending => ending.trim())
    .filter(Boolean)
  const query = useEndpoint(
    findNames,
    { siteId: site.id, phrases, endings: list },
    { enabled: wanted && phrases.length > 0 && list.length > 0, staleTime: 600_000, retry: false },
  )
  const field = (
    <TextField
      value={endings}
      onChange={event => {
        setEndings(event.target.value)
        localStorage.setItem(storeKey, event.target.value)
      }}
      sx={{ width: 130 }}
      slotProps={{ htmlInput: { 'aria-label': 'Endings, separated by commas' } }}
    />
  )
  return { ...query, field }
}

function FreeMark({ free }: { free: boolean | null }) {
  if (free === null)
    return (
      <span className="unknown" title="The registry could not be asked">
        unknown
      </span>
    )
  return free ? <b className="own">free</b> : <span className="quiet">taken</span>
}

/** Whether the exact-match domain names of keywords are free, for endings of one's choice; a line each. */
export default function DomainNamesDialog({ ids, onClose }: { ids: number[]; onClose(): void }) {
  const { keywords } = useSite()
  const [phrases, setPhrases] = useState<string[]>([])
  useEffect(() => {
    keywords.rows(ids.slice(0, mostPhrases)).then(
      rows => setPhrases(rows.map(row => String(row.phrase))),
      () => undefined,
    )
  }, [keywords, ids])
  const { data, error, isFetching, field } = useDomainNames(phrases, true)
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ display: 'flex', justifyContent: 'space-between', fontSize: 16 }}>
        Free domain names
        <IconButton size="small" aria-label="Close" onClick={onClose}>
          <X size={16} />
        </IconButton>
      </DialogTitle>
      <DialogContent>
        <div style={{ display: 'flex', gap: 10, alignItems: 'center', margin: '0 0 12px' }}>
          Endings {field}
          {isFetching && <span className="quiet">Asking the registry</span>}
          {error && <span className="fall">{error.message}</span>}
        </div>
        <table className="results whole-cells" style={{ width: '100%' }}>
          <thead>
            <tr>
              <th scope="col">Keyword</th>
              <th scope="col">Domain name</th>
              <th scope="col">Registry</th>
            </tr>
          </thead>
          <tbody>
            {phrases.flatMap(phrase => {
              const names = data?.filter(each => each.phrase === phrase) ?? []
              if (!names.length)
                return [
                  <tr key={phrase}>
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
      </DialogContent>
    </Dialog>
  )
}

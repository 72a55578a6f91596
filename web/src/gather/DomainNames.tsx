import { findNames } from '@dew-trail/contract/gather'
import { TextField } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../api/call.ts'
import { useSite } from '../shell/site-context.ts'

const storeKey = 'domainEndings'

/** Whether the exact-match domain names of a keyword are free, for endings of one's choice. Asked only when wanted. */
export function DomainNames({ phrase }: { phrase: string }) {
  const { site } = useSite()
  const [wanted, setWanted] = useState(false)
  const [endings, setEndings] = useState(
    () => localStorage.getItem(storeKey) ?? `.${site.domain.split('.').slice(1).join('.')}`,
  )
  const list = endings
    .split(/[\s,]+/)
    .map(ending => ending.trim())
    .filter(Boolean)
  const { data, error, isFetching } = useQuery({
    queryKey: ['names', phrase, list.join()],
    queryFn: () => call(findNames, { siteId: site.id, phrases: [phrase], endings: list }),
    enabled: wanted && list.length > 0,
    staleTime: 600_000,
    retry: false,
  })
  if (!wanted)
    return (
      <button type="button" className="link" onClick={() => setWanted(true)}>
        Free domain names
      </button>
    )
  return (
    <span style={{ display: 'inline-flex', gap: 10, alignItems: 'center', flexWrap: 'wrap' }}>
      <TextField
        value={endings}
        onChange={event => {
          setEndings(event.target.value)
          localStorage.setItem(storeKey, event.target.value)
        }}
        sx={{ width: 130 }}
        slotProps={{ htmlInput: { 'aria-label': 'Endings, separated by commas' } }}
      />
      {isFetching && <span className="quiet">Asking the registry</span>}
      {error && <span className="fall">{error.message}</span>}
      {data?.map(each => (
        <span key={each.name}>
          {each.name}{' '}
          {each.free === null ? (
            <span className="unknown" title="The registry could not be asked">
              unknown
            </span>
          ) : each.free ? (
            <b className="own">free</b>
          ) : (
            <span className="quiet">taken</span>
          )}
        </span>
      ))}
      {data?.length === 0 && <span className="quiet">These words make no domain name</span>}
    </span>
  )
}

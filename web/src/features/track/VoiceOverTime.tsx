import { listVoiceDays, mostAddedVoices, readKeptVoices } from '@dew-trail/contract/track'
import { typedAddress } from '@dew-trail/core/web/typed-address'
import { TextField } from '@mui/material'
import { X } from 'lucide-react'
import { type FormEvent, useState } from 'react'
import type { z } from 'zod'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { colourOf } from '../../compared/use-compared.ts'
import { AsTable } from '../../pictures/AsTable.tsx'
import { LineNames, lineDashes } from '../../pictures/LineNames.tsx'
import { MonthLines } from '../../pictures/MonthLines.tsx'
import { formatDay, formatOne } from '../../ui/format.ts'
import { useJobs } from '../../ui/JobLine.tsx'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { useActing } from '../../ui/use-act.ts'

type Days = z.output<(typeof listVoiceDays)['output']>

/** Shares by day, as they were told after the checks of each or read off kept pages; any site can be added, and gets its history from these. */
export function VoiceOverTime() {
  const { site, market } = useSite()
  const [params, change] = useAddress()
  const added = (params.get('added') ?? '').split(',').filter(Boolean).slice(0, mostAddedVoices)
  const setAdded = (sites: readonly string[]) => change(setParam('added', sites.join(',') || null))
  const { data } = useEndpoint(
    listVoiceDays,
    { siteId: site.id, marketId: market.id, sites: added.join(',') },
    { keep: true },
  )
  const { act, pending } = useActing()
  const reading = useJobs().jobs.some(job => job.kind === 'voices' && ['waiting', 'running'].includes(job.state))
  if (!data || (data.days.length === 0 && !data.kept)) return null
  const read = (sites: readonly string[]) =>
    act(async () => {
      await call(readKeptVoices, { siteId: site.id, marketId: market.id, sites: [...sites] })
      return { say: 'Result pages that are kept are read' }
    })
  const add = (domain: string) => {
    setAdded([...added, domain])
    void read([domain])
  }
  return (
    <section aria-label="Share of voice by day">
      <h2>By day, of the keywords that were tracked then</h2>
      {data.days.length > 1 ? (
        <Picture data={data} />
      ) : (
        <p className="quiet">The share by day is drawn once results of a second day are known.</p>
      )}
      <div style={{ display: 'flex', gap: 12, alignItems: 'center', flexWrap: 'wrap', marginTop: 8 }}>
        {added.map(domain => (
          <span className="chip" key={domain}>
            <span className="cut" style={{ padding: '0 8px' }} title={domain}>
              {domain}
            </span>
            <button
              type="button"
              aria-label={`Draw ${domain} no longer`}
              onClick={() => setAdded(added.filter(each => each !== domain))}
            >
              <X size={13} aria-hidden="true" />
            </button>
          </span>
        ))}
        {added.length < mostAddedVoices && (
          <SiteField key={added.length} known={data.sites.map(each => each.domain)} onDone={add} />
        )}
        {data.kept && (
          <button
            type="button"
            className="link"
            disabled={pending || reading}
            title={`Result pages are kept from ${formatDay(data.kept)} on. Days of which no share was noted are worked out from them, for the keywords that are tracked now, with their searches of today.`}
            onClick={() => read(added)}
          >
            {reading ? 'Reading kept result pages' : 'Read earlier days off kept result pages'}
          </button>
        )}
      </div>
    </section>
  )
}

function Picture({ data }: { data: Days }) {
  const series = data.sites.map(({ domain, own, shares }, i) => ({
    name: own ? 'you' : domain,
    colour: own ? 'var(--mui-palette-dew-own)' : colourOf(i),
    dash: own ? '' : lineDashes[i % lineDashes.length]!,
    values: shares.map(share => (share === null ? null : share * 100)),
  }))
  return (
    <>
      <LineNames series={series} />
      <MonthLines
        label="Share of voice by day; the table says the same"
        months={data.days}
        series={series}
        nameOf={formatDay}
        show={value => `${formatOne(value)}%`}
      />
      <AsTable
        of="Share of voice by day"
        head={['Day', ...series.map(each => each.name)]}
        rows={() =>
          data.days.map((day, i) => [
            formatDay(day),
            ...series.map(({ values }) => (values[i] == null ? null : `${formatOne(values[i])}%`)),
          ])
        }
      />
    </>
  )
}

/** A field that takes a site; of an address it takes the site. */
function SiteField({ known, onDone }: { known: readonly string[]; onDone(domain: string): void }) {
  const [text, setText] = useState('')
  const [wrong, setWrong] = useState<string | null>(null)
  const save = (event: FormEvent) => {
    event.preventDefault()
    if (!text.trim()) return
    const typed = typedAddress(text)
    if (typed === null) return setWrong('A site looks like name.example')
    // As the server writes hosts; which site a host is of it knows, and the browser does not hold the list for that.
    const domain = new URL(`https://${typed.host}`).hostname.replace(/^www\.(?=[^.]+\.)/, '')
    if (known.includes(domain)) return setWrong('It is drawn already')
    onDone(domain)
  }
  return (
    <form onSubmit={save}>
      <TextField
        size="small"
        placeholder="+ site"
        value={text}
        error={wrong !== null}
        helperText={wrong}
        onChange={event => {
          setText(event.target.value)
          setWrong(null)
        }}
        slotProps={{ htmlInput: { 'aria-label': 'Another site', maxLength: 300 } }}
        sx={{ width: 180 }}
      />
    </form>
  )
}

import { useEndpoint } from '../../api/use-endpoint.ts'
import { type Crawl, listCrawls, listCrawlErrors, startCrawl } from '@dew-trail/contract/crawl'
import { suggestCrawls } from '@dew-trail/contract/sources'
import { Button, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { call } from '../../api/call.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatDay, formatWhole, plural } from '../../ui/format.ts'
import { JobActions, useJobs } from '../../ui/JobLine.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

const parts = [
  ['fetched', 'read'],
  ['refused', 'not allowed'],
  ['failed', 'failed'],
  ['waiting', 'waiting'],
] as const
type Part = (typeof parts)[number][0]
const sum = (crawl: Crawl, part: Part): number => crawl.hosts.reduce((total, host) => total + host[part], 0)

/** Starts crawls of the own site and of rivals, and shows each with its progress by host and what could not be read. */
export function CrawlSection() {
  const { site } = useSite()
  const act = useAct()
  const [text, setText] = useState('')
  const [most, setMost] = useState('500')
  const [open, setOpen] = useState<number | null>(null)
  const crawls = useEndpoint(listCrawls, { siteId: site.id })
  const suggested = useEndpoint(suggestCrawls, { siteId: site.id })
  const { jobs } = useJobs()
  const named = text.split(/[\s,]+/).filter(Boolean)
  const toggle = (domain: string): void =>
    setText((named.includes(domain) ? named.filter(each => each !== domain) : [...named, domain]).join(' '))
  const mostPages = Number(most)
  const start = (event: FormEvent): void => {
    event.preventDefault()
    void act(async () => {
      const { crawls: begun } = await call(startCrawl, { siteId: site.id, domains: named, mostPages })
      setText('')
      await crawls.refetch()
      return {
        say: begun.length === 1 ? `Crawling ${begun[0]!.domain}` : `Crawling ${begun.length} sites, two at a time`,
      }
    })
  }
  return (
    <section aria-labelledby="crawl-title">
      <h2 id="crawl-title">Crawl</h2>
      <form onSubmit={start} className="crawl-form">
        <TextField
          value={text}
          placeholder="Sites, such as clayharbour.example"
          onChange={event => setText(event.target.value)}
          sx={{ flex: 1, maxWidth: 560 }}
          slotProps={{ htmlInput: { 'aria-label': 'Sites to crawl' } }}
        />
        <label>
          at most{' '}
          <TextField
            value={most}
            onChange={event => setMost(event.target.value)}
            error={!(mostPages >= 1)}
            sx={{ width: 76 }}
            slotProps={{ htmlInput: { 'aria-label': 'Most pages of each site', inputMode: 'numeric' } }}
          />{' '}
          pages each
        </label>
        <Button type="submit" variant="contained" disabled={!named.length || !(mostPages >= 1)}>
          Crawl
        </Button>
      </form>
      {suggested.data && (
        <div className="crawl-chips" role="group" aria-label="Sites to choose">
          {suggested.data.map(each => (
            <button
              key={each.domain}
              type="button"
              className={each.own ? 'choice own' : 'choice'}
              aria-pressed={named.includes(each.domain)}
              onClick={() => toggle(each.domain)}
              title={`${each.own ? 'Your site' : `On ${plural(each.resultPages, 'result page')}`}; ${each.pagesFetched ? `${plural(each.pagesFetched, 'page')} read` : 'not read yet'}`}
            >
              {each.domain}
              <small>{each.pagesFetched ? `${formatWhole(each.pagesFetched)} read` : 'new'}</small>
            </button>
          ))}
        </div>
      )}
      {!crawls.data && <Waiting error={crawls.error} />}
      {crawls.data?.length === 0 && (
        <p className="quiet">
          No site was crawled yet. Choose your own and a few rivals: their pages, links and words become known.
        </p>
      )}
      {crawls.data && crawls.data.length > 0 && (
        <table className="results">
          <thead>
            <tr>
              <th style={{ width: '24%' }}>Site</th>
              <th style={{ width: '15%' }}>Begun</th>
              <th style={{ width: '24%' }}>Pages</th>
              {parts.map(([part, label]) => (
                <th key={part} className="n">
                  {label}
                </th>
              ))}
              <th>
                <span className="hidden">What to do</span>
              </th>
            </tr>
          </thead>
          {crawls.data.slice(0, 30).map(crawl => {
            const job = jobs.find(each => each.id === crawl.jobId)
            const missed = sum(crawl, 'failed') + sum(crawl, 'refused')
            return (
              <tbody key={crawl.id}>
                <tr>
                  <td>
                    <b className={crawl.own ? 'own' : ''}>{crawl.domain}</b>
                    {crawl.hosts.length > 1 && <small className="quiet"> {crawl.hosts.length} hosts</small>}
                  </td>
                  <td className="quiet">
                    {formatDay(crawl.startedAt)},{' '}
                    {crawl.state === 'done' && sum(crawl, 'waiting') ? 'limit reached' : crawl.state}
                  </td>
                  <td>
                    <Strip crawl={crawl} />
                  </td>
                  {parts.map(([part]) => (
                    <td key={part} className={part === 'failed' && sum(crawl, part) ? 'n fall' : 'n'}>
                      {formatWhole(sum(crawl, part))}
                    </td>
                  ))}
                  <td className="n">
                    <span style={{ display: 'inline-flex', gap: 10 }}>
                      {(missed > 0 || crawl.hosts.length > 1) && (
                        <button
                          type="button"
                          className="link"
                          aria-expanded={open === crawl.id}
                          onClick={() => setOpen(open === crawl.id ? null : crawl.id)}
                        >
                          {open === crawl.id ? 'Fold' : crawl.hosts.length > 1 ? 'By host' : 'What failed'}
                        </button>
                      )}
                      {job && <JobActions job={job} />}
                    </span>
                  </td>
                </tr>
                {open === crawl.id && <CrawlDetails crawl={crawl} />}
              </tbody>
            )
          })}
        </table>
      )}
    </section>
  )
}

/** What became of the addresses found, as one strip. */
function Strip({ crawl }: { crawl: Crawl }) {
  const all = parts.reduce((total, [part]) => total + sum(crawl, part), 0)
  const label = parts
    .map(([part, name]) => `${formatWhole(sum(crawl, part))} ${name}`)
    .concat(sum(crawl, 'waiting') && crawl.state === 'done' ? [`limit of ${formatWhole(crawl.mostPages)} reached`] : [])
    .join(', ')
  return (
    <span className="strip" role="img" aria-label={label} title={label}>
      {parts.map(([part]) => (
        <i key={part} className={part} style={{ width: `${(100 * sum(crawl, part)) / Math.max(1, all)}%` }} />
      ))}
    </span>
  )
}

/** Hosts of a crawl, then the pages that brought nothing with the reason of each. */
function CrawlDetails({ crawl }: { crawl: Crawl }) {
  const { site } = useSite()
  const { data } = useEndpoint(listCrawlErrors, { siteId: site.id, crawlId: crawl.id })
  return (
    <>
      {crawl.hosts.length > 1 &&
        crawl.hosts.map(host => (
          <tr key={host.host} className="quiet">
            <td colSpan={3} style={{ paddingLeft: 22 }}>
              {host.host}
            </td>
            {parts.map(([part]) => (
              <td key={part} className="n">
                {formatWhole(host[part])}
              </td>
            ))}
            <td />
          </tr>
        ))}
      {data?.pages.slice(0, 50).map(page => (
        <tr key={page.url}>
          <td colSpan={3} style={{ paddingLeft: 22 }} title={page.url}>
            {page.url}
          </td>
          <td colSpan={5} className={page.state === 'failed' ? 'fall' : 'quiet'} title={page.problem}>
            {page.problem}
          </td>
        </tr>
      ))}
      {data && data.total > 50 && (
        <tr>
          <td colSpan={8} className="quiet" style={{ paddingLeft: 22 }}>
            and {formatWhole(data.total - 50)} more
          </td>
        </tr>
      )}
    </>
  )
}

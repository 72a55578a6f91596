import { type Brief, readBrief, readForBrief } from '@dew-trail/contract/brief'
import type { PlannedPage } from '@dew-trail/contract/plan'
import { TextField } from '@mui/material'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatDay, formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { BriefChecks } from './BriefChecks.tsx'
import { BriefFiles } from './BriefFiles.tsx'
import { BriefHeadings } from './BriefHeadings.tsx'
import { BriefLinks } from './BriefLinks.tsx'
import { LineWidths, ResultLine } from './ResultLine.tsx'
import { type BriefDraft, useBriefDraft } from './use-brief-draft.ts'
import { useCoverage } from './use-coverage.ts'
import { usePageDraft } from './use-page-draft.ts'

/** The brief of a page: what a writer is given, what can be taken into it, and how the page keeps to it once it is there. */
export function BriefPart({ page }: { page: PlannedPage }) {
  const { site, market } = useSite()
  const { data, error } = useEndpoint(
    readBrief,
    { siteId: site.id, pageId: page.id, marketId: market.id },
    { keep: true },
  )
  if (!data || data.pageId !== page.id) return <Waiting error={error} />
  return <BriefForm key={page.id} page={page} brief={data} />
}

function BriefForm({ page, brief }: { page: PlannedPage; brief: Brief }) {
  const { site } = useSite()
  const draft = useBriefDraft(brief)
  const { text } = draft
  const { field } = usePageDraft(page)
  const address = page.address ?? brief.offers.address ?? '/'
  const shown = `${site.domain}${address.replace(/^https?:\/\/[^/]+/, '')}`
  return (
    <div className="brief">
      {draft.refused && (
        <p role="alert" className="fall">
          Somebody else saved this brief meanwhile. Yours is not saved yet.{' '}
          <button type="button" className="link" onClick={draft.takeTheirs}>
            Take theirs
          </button>{' '}
          <button type="button" className="link" onClick={draft.keepMine}>
            Put mine in its place
          </button>
        </p>
      )}
      {brief.checks.length > 0 && brief.page && <BriefChecks brief={brief} />}
      <h3>As a result line</h3>
      <ResultLine title={text.title || brief.offers.title} address={shown} description={text.description} />
      <LineWidths title={text.title || brief.offers.title} description={text.description} />
      <TextField
        fullWidth
        label="Title"
        placeholder={brief.offers.title}
        value={text.title}
        onChange={event => draft.write({ title: event.target.value })}
        onBlur={draft.save}
        slotProps={{ htmlInput: { maxLength: 300 } }}
      />
      <TitleCarries page={page} title={text.title || brief.offers.title} language={brief.language} />
      <TextField
        fullWidth
        multiline
        minRows={2}
        label="Description"
        value={text.description}
        onChange={event => draft.write({ description: event.target.value })}
        onBlur={draft.save}
        slotProps={{ htmlInput: { maxLength: 1_000 } }}
      />
      <TextField fullWidth label="Address" placeholder={brief.offers.address ?? '/guides/…'} {...field('address')} />
      <BriefHeadings draft={draft} offers={brief.offers.headings} />
      <BriefTerms draft={draft} brief={brief} />
      <BriefLinks draft={draft} offers={brief.offers.links} />
      <h3>Pages to read</h3>
      {brief.offers.rivals.length === 0 ? (
        <p className="quiet">The first results of the lead are not known yet: weigh it.</p>
      ) : (
        <ol className="plain-list">
          {brief.offers.rivals.map(rival => (
            <li key={rival.url} className={rival.own ? 'own' : ''}>
              <span className="n">{rival.position}</span>
              <a className="link cell-cut" href={rival.url} target="_blank" rel="noreferrer" title={rival.url}>
                {rival.title || rival.url}
              </a>
              <span className="quiet n">{rival.words === null ? 'not read' : `${formatWhole(rival.words)} words`}</span>
            </li>
          ))}
        </ol>
      )}
      <TextField
        fullWidth
        multiline
        minRows={2}
        label="Remarks for the writer"
        value={text.remarks}
        onChange={event => draft.write({ remarks: event.target.value })}
        onBlur={draft.save}
        slotProps={{ htmlInput: { maxLength: 10_000 } }}
      />
      <BriefFiles pages={[page]} />
    </div>
  )
}

/** Which of the page's keywords the title has, by their stems. */
function TitleCarries({ page, title, language }: { page: PlannedPage; title: string; language: string }) {
  const coverageOf = useCoverage()
  if (!coverageOf || !page.keywords.length || !title) return null
  const covers = coverageOf(title, language)
  const carried = page.keywords.filter(keyword => covers(keyword.phrase) !== 'no')
  const lead = page.keywords[0]!
  return (
    <p className="quiet" style={{ margin: 0 }}>
      {carried.length ? (
        <>
          The title carries{' '}
          {carried
            .slice(0, 4)
            .map(keyword => `"${keyword.phrase}"`)
            .join(', ')}
          {carried.length > 4 && ` and ${formatWhole(carried.length - 4)} more`} of{' '}
          {plural(page.keywords.length, 'keyword')}.
        </>
      ) : (
        'The title carries none of the keywords.'
      )}
      {!carried.includes(lead) && <span className="fall"> It lacks the lead, "{lead.phrase}".</span>}
    </p>
  )
}

function BriefTerms({ draft, brief }: { draft: BriefDraft; brief: Brief }) {
  const { site, market } = useSite()
  const { offers, resultsOn } = brief
  const { terms, wordsFrom, wordsTo } = draft.text
  const toggle = (term: string) =>
    draft.put({ terms: terms.includes(term) ? terms.filter(each => each !== term) : [...terms, term] })
  const known = new Set(offers.terms.map(each => each.term))
  const number = (text: string): number | null =>
    text.trim() === '' ? null : Math.max(0, Math.round(Number(text)) || 0)
  return (
    <>
      <h3>
        Terms the first {offers.results || 'results'} use{' '}
        <span className="quiet">
          {resultsOn && `on ${formatDay(resultsOn)}; `}
          {offers.results > 0 &&
            (offers.read < offers.results
              ? `text of ${offers.read} of ${offers.results} read, of the others title and snippet`
              : 'all read')}
        </span>
      </h3>
      <div className="term-list">
        {offers.terms.map(({ term, results, marked }) => (
          <button
            key={term}
            type="button"
            className="term"
            aria-pressed={terms.includes(term)}
            onClick={() => toggle(term)}
            title={marked ? 'The engine marked it in a snippet' : undefined}
          >
            {term}{' '}
            <span className="quiet">
              {results} of {offers.results}
              {marked && ', marked'}
            </span>
          </button>
        ))}
        {terms
          .filter(term => !known.has(term))
          .map(term => (
            <button key={term} type="button" className="term" aria-pressed onClick={() => toggle(term)}>
              {term}
            </button>
          ))}
        {offers.terms.length === 0 && <span className="quiet">None are known.</span>}
      </div>
      {offers.results > 0 && offers.read < offers.results && (
        <ActButton
          onAct={async () => {
            const { pages } = await call(readForBrief, { siteId: site.id, pageId: brief.pageId, marketId: market.id })
            return { say: `Reading ${plural(pages, 'page')}; the foot shows how far it is` }
          }}
        >
          Read the first results
        </ActButton>
      )}
      <h3>
        Length{' '}
        <span className="quiet">
          {offers.words
            ? `${formatWhole(offers.words.from)} to ${formatWhole(offers.words.to)} words: the middle half of ${plural(offers.words.pages, 'page')} read`
            : 'read the first results to know how long they are'}
        </span>
      </h3>
      <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
        <TextField
          type="number"
          label="Words from"
          value={wordsFrom ?? ''}
          sx={{ width: 110 }}
          onChange={event => draft.write({ wordsFrom: number(event.target.value) })}
          onBlur={draft.save}
        />
        <TextField
          type="number"
          label="to"
          value={wordsTo ?? ''}
          sx={{ width: 110 }}
          onChange={event => draft.write({ wordsTo: number(event.target.value) })}
          onBlur={draft.save}
        />
        {offers.words && (wordsFrom !== offers.words.from || wordsTo !== offers.words.to) && (
          <button
            type="button"
            className="link"
            onClick={() => draft.put({ wordsFrom: offers.words!.from, wordsTo: offers.words!.to })}
          >
            Take that length
          </button>
        )}
      </div>
    </>
  )
}

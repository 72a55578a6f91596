import { X } from 'lucide-react'
import { useState } from 'react'
import { formatDay, plural } from '../../ui/format.ts'
import { BriefPart } from './BriefPart.tsx'
import { PageActs } from './PageDetails.tsx'
import { PageKeywords } from './PageKeywords.tsx'
import { PageSums } from './PageSums.tsx'
import { kindLabels, stateLabels } from './plan-words.ts'
import { usePlan } from './use-plan.ts'
import { WorkFields } from './WorkFields.tsx'

const parts = { brief: 'Brief', work: 'Work', keywords: 'Keywords' } as const

/** The page that is worked on, beside the site map: one writes its brief while reading the tree. */
export function PagePanel({ pageId, onClose }: { pageId: number; onClose(): void }) {
  const { pages, byId } = usePlan()
  const [part, setPart] = useState<keyof typeof parts>('brief')
  const page = byId.get(pageId)
  if (!page)
    return (
      <aside className="page-panel" aria-label="Page">
        <p className="quiet">{pages ? 'This page is not on the plan any more.' : 'Loading'}</p>
        <button type="button" className="link" onClick={onClose}>
          Close
        </button>
      </aside>
    )
  const facts = [
    kindLabels[page.kind].toLowerCase(),
    page.kind === 'keep' ? null : stateLabels[page.state].toLowerCase(),
    page.deadline && `${page.late ? 'late since' : 'due'} ${formatDay(page.deadline)}`,
    page.owner,
    page.effort === null ? null : `${plural(page.effort, 'day')} of work`,
  ].filter(Boolean)
  return (
    <aside className="page-panel" aria-label={page.title}>
      <div className="panel-head">
        <h2 title={page.title}>{page.title}</h2>
        <button type="button" className="link" aria-label="Close" onClick={onClose}>
          <X size={15} />
        </button>
      </div>
      <div className="quiet">{facts.join(' · ')}</div>
      <PageSums page={page} />
      <div className="panel-parts" role="group" aria-label="Part of the page">
        {(Object.keys(parts) as Array<keyof typeof parts>).map(each => (
          <button key={each} type="button" className="link" aria-pressed={part === each} onClick={() => setPart(each)}>
            {parts[each]}
            {each === 'keywords' && ` ${page.keywords.length}`}
          </button>
        ))}
      </div>
      {part === 'brief' && <BriefPart page={page} />}
      {part === 'work' && (
        <>
          <WorkFields page={page} />
          <PageActs page={page} />
        </>
      )}
      {part === 'keywords' && (
        <>
          <PageKeywords page={page} />
          <PageActs page={page} />
        </>
      )}
    </aside>
  )
}

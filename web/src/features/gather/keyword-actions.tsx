import { askCounts, askFigures, keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { lazy } from 'react'
import { call } from '../../api/call.ts'
import type { ActionTools, KeywordAction } from '../../keywords/keyword-actions.ts'
import { plural } from '../../ui/format.ts'

const DomainNamesDialog = lazy(() => import('./DomainNames.tsx'))

const keep = (ids: number[], kept: boolean, { site, act }: ActionTools): Promise<void> =>
  act(async () => {
    const { changed, actId } = await call(keepKeywords, { siteId: site.id, keywordIds: ids, kept })
    if (!changed.length || (ids.length === 1 && kept)) return
    return { say: `${plural(changed.length, 'keyword')} ${kept ? 'kept' : 'let go'}`, actId }
  })

export const gatherActions: KeywordAction[] = [
  {
    name: 'keep',
    label: 'Keep',
    key: 'y',
    shownIn: 'foot',
    labelFor: row => (row.kept ? null : 'Keep'),
    run: (ids, tools) => keep(ids, true, tools),
  },
  {
    name: 'letGo',
    label: 'Let go',
    key: 'n',
    shownIn: 'foot',
    labelFor: row => (row.kept ? 'Let go' : null),
    run: (ids, tools) => keep(ids, false, tools),
  },
  {
    name: 'gather',
    label: 'Gather from these',
    key: 'g',
    shownIn: 'more',
    labelFor: () => 'Gather from this',
    run: (ids, { site, market, keywords, act }, { parentId }) =>
      act(async () => {
        const rows = await keywords.rows(ids.slice(0, 50))
        await call(startGathering, {
          siteId: site.id,
          marketId: market.id,
          seeds: rows.map(row => String(row.phrase)),
          ...(parentId ? { parentId } : {}),
        })
        return {
          say: `Gathering from ${rows.length === 1 ? `"${String(rows[0]!.phrase)}"` : plural(rows.length, 'keyword')}`,
        }
      }),
  },
  {
    name: 'figures',
    label: 'Ask for figures',
    key: 'f',
    shownIn: 'more',
    labelFor: row => (row.demandState === 'known' ? null : 'Ask for figures'),
    run: (ids, { site, market, act }) =>
      act(async () => {
        await call(askFigures, { siteId: site.id, marketId: market.id, keywordIds: ids })
        return { say: `Asking the ads data about ${plural(ids.length, 'keyword')}` }
      }),
  },
  {
    name: 'counts',
    label: 'Ask how many pages have it',
    shownIn: 'more',
    most: 50_000,
    run: (ids, { site, market, act }) =>
      act(async () => {
        await call(askCounts, { siteId: site.id, marketId: market.id, keywordIds: ids })
        return {
          say: `Asking the engine about ${plural(ids.length, 'keyword')}, two requests each; the columns "Pages with it" and "In titles" tell`,
        }
      }),
  },
  {
    name: 'names',
    label: 'Free domain names',
    shownIn: 'more',
    most: 50_000,
    run: (ids, { show }) => show(close => <DomainNamesDialog ids={ids} onClose={close} />),
  },
]

import {
  changeTheme,
  chooseThemes,
  listGroupedKeywords,
  mergeThemes,
  moveToTheme,
  planThemes,
} from '@dew-trail/contract/group'
import { trackKeywords } from '@dew-trail/contract/track'
import { useMemo } from 'react'
import { call } from '../../api/call.ts'
import { plural } from '../../ui/format.ts'
import { useAct } from '../../ui/use-act.ts'
import type { Choice } from './use-grouping.ts'

type One = { siteId: number; groupingId: number }

/** What can be done with the themes of a grouping and their keywords; each says what came of it and can be undone. */
export function useThemeActs(one: One) {
  const act = useAct()
  return useMemo(
    () => ({
      move: (keywordIds: number[], theme: { id: number; name: string }) =>
        act(async () => {
          const { moved, actId } = await call(moveToTheme, { ...one, keywordIds, themeId: theme.id })
          if (!moved) return { say: `Already in "${theme.name}"` }
          return { say: `${plural(moved, 'keyword')} moved to "${theme.name}"`, actId }
        }),
      split: (keywordIds: number[], name?: string) =>
        act(async () => {
          const { moved, actId } = await call(moveToTheme, {
            ...one,
            keywordIds,
            themeId: null,
            ...(name ? { name } : {}),
          })
          return {
            say: `${plural(moved, 'keyword')} split off into a theme of ${moved === 1 ? 'its' : 'their'} own`,
            actId,
          }
        }),
      letGo: (keywordIds: number[]) =>
        act(async () => {
          const { moved, actId } = await call(moveToTheme, { ...one, keywordIds, themeId: null, alone: true })
          return moved ? { say: `${plural(moved, 'keyword')} let go`, actId } : { say: 'Alone already' }
        }),
      merge: (themeIds: number[], into: { id: number; name: string }) =>
        act(async () => {
          const { moved, actId } = await call(mergeThemes, { ...one, themeId: into.id, themeIds })
          return { say: `${plural(moved, 'keyword')} merged into "${into.name}"`, actId }
        }),
      rename: (themeId: number, name: string) =>
        act(async () => {
          const { actId } = await call(changeTheme, { ...one, themeId, name })
          return { say: name ? `The theme is called "${name}"` : 'The theme is called as its lead', actId }
        }),
      lead: (themeId: number, keyword: { id: number; phrase: string }) =>
        act(async () => {
          const { actId } = await call(changeTheme, { ...one, themeId, leadId: keyword.id })
          return { say: `"${keyword.phrase}" leads the theme`, actId }
        }),
      lock: (themeId: number, locked: boolean) =>
        act(async () => {
          const { actId } = await call(changeTheme, { ...one, themeId, locked })
          return { say: locked ? 'Locked: it stays as it is when you group again' : 'No longer locked', actId }
        }),
      plan: (themeIds: number[]) =>
        act(async () => {
          const { pages, fresh, keywords, takenOff, actId } = await call(planThemes, { ...one, themeIds })
          const off = takenOff ? `; ${plural(takenOff, 'was', 'were')} on another page` : ''
          return {
            say: `${plural(keywords, 'keyword')} put on ${plural(pages, 'page')}${fresh ? `, ${fresh} of them new` : ''}${off}`,
            actId,
          }
        }),
      track: (themeIds: number[]) =>
        act(async () => {
          const wanted = new Set(themeIds)
          const { rows } = await call(listGroupedKeywords, one)
          const keywordIds = rows
            .filter(row => row.themeId !== null && wanted.has(row.themeId) && !row.tracked)
            .map(row => row.id)
          if (!keywordIds.length) return { say: 'All of them are tracked already' }
          const { changed, actId } = await call(trackKeywords, { siteId: one.siteId, keywordIds, tracked: true })
          return { say: `${plural(changed.length, 'keyword')} sent to tracking`, actId }
        }),
      choose: (choice: Choice & { basis?: 'results' | 'words' }) =>
        act(async () => {
          const { themes, actId } = await call(chooseThemes, { ...one, ...choice })
          return { say: `${plural(themes, 'theme')} kept`, actId }
        }),
    }),
    [one, act],
  )
}
export type ThemeActs = ReturnType<typeof useThemeActs>

import {
  addList,
  changeList,
  type KeywordList,
  type ListKind,
  listLists,
  removeList,
  renameList,
} from '@dew-trail/contract/lists'
import { call } from '../api/call.ts'
import { useEndpoint } from '../api/use-endpoint.ts'
import { plural } from '../format.ts'
import { useSite } from '../shell/site-context.ts'
import { useAct } from '../shell/use-act.ts'

/** The site's lists of a kind, and what can be done with them. */
export function useLists(kind: ListKind) {
  const { site } = useSite()
  const { data, refetch } = useEndpoint(listLists, { siteId: site.id })
  const act = useAct()
  const siteId = site.id
  const change = async (listId: number, keywordIds: number[], on: boolean) => {
    const { changed } = await call(changeList, { siteId, listId, keywordIds, on })
    await refetch()
    return changed
  }
  return {
    lists: (data ?? []).filter(each => each.kind === kind),
    put: (list: Pick<KeywordList, 'id' | 'name'>, keywordIds: number[]) =>
      act(async () => {
        const changed = await change(list.id, keywordIds, true)
        return changed.length
          ? {
              say: `${plural(changed.length, 'keyword')} put on "${list.name}"`,
              undo: () => change(list.id, changed, false),
            }
          : { say: `Already on "${list.name}"` }
      }),
    takeOff: (list: Pick<KeywordList, 'id' | 'name'>, keywordIds: number[]) =>
      act(async () => {
        const changed = await change(list.id, keywordIds, false)
        return changed.length
          ? {
              say: `${plural(changed.length, 'keyword')} taken off "${list.name}"`,
              undo: () => change(list.id, changed, true),
            }
          : { say: `None of them is on "${list.name}"` }
      }),
    add: (name: string) => call(addList, { siteId, kind, name }),
    rename: (list: KeywordList, name: string) =>
      act(async () => {
        await call(renameList, { siteId, listId: list.id, name })
        await refetch()
        return {
          say: `"${list.name}" is called "${name}" now`,
          undo: async () => {
            await call(renameList, { siteId, listId: list.id, name: list.name })
            await refetch()
          },
        }
      }),
    remove: (list: KeywordList) =>
      act(async () => {
        const { keywordIds } = await call(removeList, { siteId, listId: list.id })
        await refetch()
        return {
          say: `"${list.name}" is removed; its keywords stay`,
          undo: async () => {
            const again = await call(addList, { siteId, kind, name: list.name })
            if (keywordIds.length) await change(again.id, keywordIds, true)
            await refetch()
          },
        }
      }),
  }
}

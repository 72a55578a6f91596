import {
  addList,
  changeList,
  type KeywordList,
  type ListKind,
  listLists,
  removeList,
  renameList,
  valueLabel,
} from '@dew-trail/contract/lists'
import { call } from '../api/call.ts'
import { useEndpoint } from '../api/use-endpoint.ts'
import { plural } from '../ui/format.ts'
import { useSite } from '../ui/site-context.ts'
import { useAct } from '../ui/use-act.ts'

/** The site's lists of a kind, and what can be done with them. */
export function useLists(kind: ListKind) {
  const { site } = useSite()
  const { data, refetch } = useEndpoint(listLists, { siteId: site.id })
  const act = useAct()
  const siteId = site.id
  const change = async (listId: number, keywordIds: number[], on: boolean) => {
    const done = await call(changeList, { siteId, listId, keywordIds, on })
    await refetch()
    return done
  }
  return {
    lists: (data ?? []).filter(each => each.kind === kind),
    put: (list: Pick<KeywordList, 'id' | 'name'>, keywordIds: number[]) =>
      act(async () => {
        const { changed, actId } = await change(list.id, keywordIds, true)
        return changed.length
          ? { say: `${plural(changed.length, 'keyword')} put on "${list.name}"`, actId }
          : { say: `Already on "${list.name}"` }
      }),
    takeOff: (list: Pick<KeywordList, 'id' | 'name'>, keywordIds: number[]) =>
      act(async () => {
        const { changed, actId } = await change(list.id, keywordIds, false)
        return changed.length
          ? { say: `${plural(changed.length, 'keyword')} taken off "${list.name}"`, actId }
          : { say: `None of them is on "${list.name}"` }
      }),
    add: (name: string) => call(addList, { siteId, kind, name }),
    rename: (list: KeywordList, name: string) =>
      act(async () => {
        const { actId } = await call(renameList, { siteId, listId: list.id, name })
        await refetch()
        return { say: `"${list.name}" is called "${name}" now`, actId }
      }),
    value: (list: KeywordList, visitWorth: number | null) =>
      act(async () => {
        const { actId } = await call(valueLabel, { siteId, listId: list.id, visitWorth })
        await refetch()
        return {
          say:
            visitWorth === null
              ? `A visit by "${list.name}" is worth what any other is`
              : `A visit by "${list.name}" counts as worth ${visitWorth} everywhere`,
          actId,
        }
      }),
    remove: (list: KeywordList) =>
      act(async () => {
        const { actId } = await call(removeList, { siteId, listId: list.id })
        await refetch()
        return { say: `"${list.name}" is removed; its keywords stay`, actId }
      }),
  }
}

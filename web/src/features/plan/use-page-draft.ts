import { changePage, type PageState, type PlannedPage, type WorkKind } from '@dew-trail/contract/plan'
import { useEffect, useRef, useState } from 'react'
import { call } from '../../api/call.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

type Field = 'title' | 'address' | 'remarks' | 'deadline' | 'notBefore' | 'owner' | 'effort'
type Texts = Record<Field, string>
type Edit = Partial<{
  title: string
  address: string | null
  deadline: string | null
  notBefore: string | null
  state: PageState
  kind: WorkKind
  mergeInto: number | null
  mustBeIn: boolean
  owner: string
  effort: number | null
  remarks: string
}>
const fields: readonly Field[] = ['title', 'address', 'remarks', 'deadline', 'notBefore', 'owner', 'effort']
/** Fields that are null, not empty, where nothing is said. */
const nullable: readonly Field[] = ['address', 'deadline', 'notBefore']
const textsOf = (page: PlannedPage): Texts => ({
  title: page.title,
  address: page.address ?? '',
  remarks: page.remarks,
  deadline: page.deadline ?? '',
  notBefore: page.notBefore ?? '',
  owner: page.owner,
  effort: page.effort === null ? '' : String(page.effort),
})
/** What is saved of a field's text. */
function savedOf(key: Field, text: string): string | number | null {
  if (key === 'effort') return text.trim() === '' ? null : Number(text.replace(',', '.'))
  return nullable.includes(key) ? text || null : text
}

/**
 * Texts of a page while they are edited; each is saved as its field is left. What somebody else changes meanwhile comes into the fields
 * that nobody is writing in; a text that was begun before such a change is refused, and stays in its field.
 */
export function usePageDraft(page: PlannedPage) {
  const { site } = useSite()
  const act = useAct()
  /** The field whose text was refused since somebody else changed the page. */
  const [refused, setRefused] = useState<Field | null>(null)
  const [draft, setDraft] = useState(() => textsOf(page))
  const edited = useRef<Field | null>(null)
  /** The version that was seen when the field that is edited was entered. */
  const begun = useRef(page.version)
  const latest = useRef(page.version)
  latest.current = Math.max(latest.current, page.version)
  useEffect(() => {
    const now = textsOf(page)
    setDraft(before => ({
      ...now,
      ...Object.fromEntries(fields.filter(field => field === edited.current).map(field => [field, before[field]])),
    }))
  }, [page])
  const save = (edit: Edit, version: number, from?: Field) =>
    act(async () => {
      let next: number
      try {
        next = (await call(changePage, { siteId: site.id, pageId: page.id, version, ...edit })).version
      } catch (error) {
        if (from) setRefused(from)
        throw error
      }
      if (from) setRefused(null)
      // One's own change is no one else's: what is being written already goes on from it.
      if (begun.current === latest.current) begun.current = next
      latest.current = next
      if (from && edited.current === from) edited.current = null
    })
  return {
    change: (edit: Edit) => save(edit, latest.current),
    field: (key: Field) => ({
      value: draft[key],
      onFocus: () => {
        edited.current = key
        begun.current = latest.current
      },
      onChange: (event: { target: { value: string } }) => {
        edited.current = key
        setDraft(before => ({ ...before, [key]: event.target.value }))
      },
      // The other's text is seen before one's own takes its place.
      ...(refused === key && draft[key] !== textsOf(page)[key]
        ? {
            error: true,
            helperText: `Meanwhile it became "${textsOf(page)[key] || 'empty'}". Leave the field again to put yours in its place, or press Escape to take theirs.`,
          }
        : {}),
      onKeyDown: (event: { key: string }) => {
        if (event.key !== 'Escape' || refused !== key) return
        edited.current = null
        setRefused(null)
        setDraft(before => ({ ...before, [key]: textsOf(page)[key] }))
      },
      onBlur: () => {
        const text = draft[key]
        if (text === textsOf(page)[key]) {
          edited.current = null
          return
        }
        void save({ [key]: savedOf(key, text) }, begun.current, key)
      },
    }),
  }
}

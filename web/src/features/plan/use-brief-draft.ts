import { type Brief, type BriefText, saveBrief } from '@dew-trail/contract/brief'
import { useEffect, useRef, useState } from 'react'
import { call } from '../../api/call.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

/**
 * A brief while it is written. Texts are saved as their field is left, what is taken in with a click at once; saves go one after another,
 * each over the version before. What somebody else saves meanwhile comes in where nothing here is unsaved; otherwise the save is refused
 * and one's own text stays.
 */
export function useBriefDraft(brief: Brief) {
  const { site } = useSite()
  const act = useAct()
  const [text, setText] = useState(brief.text)
  /** Somebody else saved what was not seen here. */
  const [refused, setRefusedShown] = useState(false)
  const isRefused = useRef(false)
  const setRefused = (is: boolean): void => {
    isRefused.current = is
    setRefusedShown(is)
  }
  const latest = useRef(brief.text)
  const saved = useRef({ text: brief.text, version: brief.version })
  const busy = useRef<Promise<void>>(Promise.resolve())
  useEffect(() => {
    if (brief.version <= saved.current.version) return
    const clean = latest.current === saved.current.text
    saved.current = { text: brief.text, version: clean ? brief.version : saved.current.version }
    if (clean) {
      latest.current = brief.text
      setText(brief.text)
    }
  }, [brief])
  const save = (): void => {
    busy.current = busy.current.then(async () => {
      const now = latest.current
      // After a refusal nothing is sent until somebody says whose text counts.
      if (now === saved.current.text || isRefused.current) return
      await act(async () => {
        try {
          const { version, actId } = await call(saveBrief, {
            siteId: site.id,
            pageId: brief.pageId,
            version: saved.current.version,
            text: now,
          })
          saved.current = { text: now, version }
          setRefused(false)
          return { actId }
        } catch (error) {
          setRefused(true)
          throw error
        }
      })
    })
  }
  const write = (part: Partial<BriefText>): void => {
    latest.current = { ...latest.current, ...part }
    setText(latest.current)
  }
  // What was written is not lost when the page is left in the middle of a field.
  const flush = useRef(save)
  flush.current = save
  useEffect(() => () => flush.current(), [])
  return {
    text,
    refused,
    write,
    save,
    /** Writes and saves at once. */
    put(part: Partial<BriefText>) {
      write(part)
      save()
    },
    /** Takes what the other saved in the place of one's own. */
    takeTheirs() {
      latest.current = brief.text
      saved.current = { text: brief.text, version: brief.version }
      setText(brief.text)
      setRefused(false)
    },
    /** Saves one's own over what the other saved. */
    keepMine() {
      saved.current = { text: brief.text, version: brief.version }
      setRefused(false)
      save()
    },
  }
}
export type BriefDraft = ReturnType<typeof useBriefDraft>

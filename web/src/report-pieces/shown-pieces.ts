import type { KeptPart } from '@dew-trail/contract/kept-section'
import type { ViewState } from '@dew-trail/contract/views'
import type { Drawing } from '@dew-trail/core/pictures/drawing'
import { useEffect, useRef } from 'react'

export type KeptTable = NonNullable<KeptPart['table']>
/** A sheet that is on the screen: `live` where the server writes it too and a report can fill it anew, `keep` what it shows now. */
export type ShownSheet = { title: string; live?(): { name: string; state: ViewState }; keep(): Promise<KeptTable> }
/** A picture that is no SVG element and no chart, and so must be told of. */
export type ShownPicture = { title: string; sentence: string; draw(): Drawing }

type Kept<Thing> = Set<{ current: Thing }>
const sheets: Kept<ShownSheet> = new Set()
const pictures: Kept<ShownPicture> = new Set()

/** Sheets and pictures that are on the screen now, the first one first. */
export const shownSheets = (): ShownSheet[] => [...sheets].map(each => each.current)
export const shownPictures = (): ShownPicture[] => [...pictures].map(each => each.current)

/** Tells of a sheet while it is on the screen, as a report may want it. */
export const useShownSheet = (sheet: ShownSheet): void => useShown(sheets, sheet)
/** The same of a picture. */
export const useShownPicture = (picture: ShownPicture): void => useShown(pictures, picture)

function useShown<Thing>(all: Kept<Thing>, thing: Thing): void {
  const latest = useRef(thing)
  latest.current = thing
  useEffect(() => {
    all.add(latest)
    return () => void all.delete(latest)
  }, [all])
}

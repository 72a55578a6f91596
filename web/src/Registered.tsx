import type { ReactNode } from 'react'
import { destinations, keywordActions, paletteActions, screenHelp } from './features.ts'
import { keywordActionsContext } from './keywords/keyword-actions.ts'
import { destinationsContext, helpContext, paletteContext } from './shell/registry.ts'

/** Gives the program what its features registered. */
export function Registered({ children }: { children: ReactNode }) {
  return (
    <keywordActionsContext.Provider value={keywordActions}>
      <destinationsContext.Provider value={destinations}>
        <paletteContext.Provider value={paletteActions}>
          <helpContext.Provider value={screenHelp}>{children}</helpContext.Provider>
        </paletteContext.Provider>
      </destinationsContext.Provider>
    </keywordActionsContext.Provider>
  )
}

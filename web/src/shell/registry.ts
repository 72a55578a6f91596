import { createContext } from 'react'
import type { Destination, PaletteAction, ScreenHelp } from '../feature.ts'

/** Where navigation leads, in order. */
export const destinationsContext = createContext<readonly Destination[]>([])
/** What the palette offers to do. */
export const paletteContext = createContext<readonly PaletteAction[]>([])
/** What screens are for. */
export const helpContext = createContext<() => Promise<readonly ScreenHelp[]>>(async () => [])

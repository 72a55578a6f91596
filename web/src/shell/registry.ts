import { createContext } from 'react'
import type { Destination, PaletteAction } from '../feature.ts'

/** Where navigation leads, in order. */
export const destinationsContext = createContext<readonly Destination[]>([])
/** What the palette offers to do. */
export const paletteContext = createContext<readonly PaletteAction[]>([])

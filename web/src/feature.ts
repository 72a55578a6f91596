import type { Trail } from '@dew-trail/contract/sites'
import type { ComponentType } from 'react'
import type { ActionTools, KeywordAction } from './keywords/keyword-actions.ts'

/** A screen at a path below the site; loaded when it is first opened, unless it comes with the program. */
export type FeatureRoute = { path: string } & (
  | { screen: ComponentType }
  | { load: () => Promise<{ default: ComponentType }> }
)
/** A place that navigation leads to: a station of the trail, with what has reached it, or a side path. */
export type Destination = { path: string; label: string; order: number } & (
  | { on: 'trail'; count(trail: Trail): string }
  | { on: 'side' }
)
/** What the palette offers to do: to go to a path below the site, or to run something. */
/** `ctrlKey`: the letter that does it with Ctrl (or Cmd) where nobody is typing. */
export type PaletteAction = { label: string; ctrlKey?: string } & ({ path: string } | { run(tools: ActionTools): void })

/** What a screen is for and how to begin, for who asks for help there. */
export type ScreenHelp = {
  /** Below the site; the longest that the address begins with is the screen's. */
  path: string
  title: string
  says: readonly string[]
  /** Of a screen in parts: what each is called and what it shows. */
  tabs?: Readonly<Record<string, string>>
  parts?: Readonly<Record<string, string>>
}

/** What a part of the program adds to the browser. A part is registered by one line in `features.ts`. */
export type WebFeature = {
  routes?: readonly FeatureRoute[]
  destinations?: readonly Destination[]
  palette?: readonly PaletteAction[]
  keywordActions?: readonly KeywordAction[]
  help?: () => Promise<{ default: readonly ScreenHelp[] }>
}

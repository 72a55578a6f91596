import { useSyncExternalStore } from 'react'

const attribute = 'data-scheme'
const subscribe = (onChange: () => void): (() => void) => {
  const observer = new MutationObserver(onChange)
  observer.observe(document.documentElement, { attributes: true, attributeFilter: [attribute] })
  return () => observer.disconnect()
}

/**
 * The colour scheme that the document shows. What reads colours off the document (`themeColour`) must be drawn anew when this changes: the
 * theme's own state changes before the document does, and would give the colours of the scheme before.
 */
export const useShownScheme = (): string =>
  useSyncExternalStore(subscribe, () => document.documentElement.getAttribute(attribute) ?? '')

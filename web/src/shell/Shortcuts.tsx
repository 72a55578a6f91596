import { useContext, useEffect, useRef } from 'react'
import { useShowDialog } from '../ui/DialogHost.tsx'
import { useSite } from '../ui/site-context.ts'
import { isText } from '../ui/is-text.ts'
import { useAct } from '../ui/use-act.ts'
import { paletteContext } from './registry.ts'

/** Keys that work on every screen: the palette, help, and what features registered with Ctrl. Texts keep their own undo. */
export function Shortcuts({ onPalette, onHelp }: { onPalette(): void; onHelp(): void }) {
  const { site, market, keywords } = useSite()
  const actions = useContext(paletteContext)
  const act = useAct()
  const show = useShowDialog()
  const latest = useRef<(event: KeyboardEvent) => void>(() => undefined)
  latest.current = event => {
    const key = event.key.toLowerCase()
    if (event.ctrlKey || event.metaKey) {
      if (event.shiftKey || event.altKey) return
      if (key === 'k') {
        event.preventDefault()
        onPalette()
        return
      }
      const action = actions.find(each => each.ctrlKey === key)
      if (!action || isText(event.target) || !('run' in action)) return
      event.preventDefault()
      action.run({ site, market, keywords, act, show })
    } else if (event.key === '?' && !isText(event.target)) onHelp()
  }
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => latest.current(event)
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])
  return null
}

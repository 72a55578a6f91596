import type { ReactNode } from 'react'
import { type ActOutcome, useActing } from './use-act.ts'

type Props = {
  /** For who cannot see what the button stands beside. */
  label?: string
  title?: string
  disabled?: boolean
  className?: string
  onAct(): Promise<ActOutcome | void>
  children: ReactNode
}

/** A button that does something once: while that is under way it cannot be pressed again. */
export function ActButton({ label, title, disabled = false, className = 'link', onAct, children }: Props) {
  const { act, pending } = useActing()
  return (
    <button
      type="button"
      className={className}
      aria-label={label}
      title={title}
      disabled={disabled || pending}
      onClick={() => void act(onAct)}
    >
      {children}
    </button>
  )
}

import type { ReactNode } from 'react'
import { useAct } from '../../ui/use-act.ts'

/** A secret that is shown this once, to be copied. */
export function SecretOnce({ secret, children, onDone }: { secret: string; children: ReactNode; onDone(): void }) {
  const act = useAct()
  return (
    <div className="sentence secret-once" role="status">
      <p>{children}</p>
      <input
        className="secret-address"
        readOnly
        aria-label="Shown once"
        value={secret}
        onFocus={event => event.target.select()}
      />
      <button
        type="button"
        className="link"
        onClick={() =>
          void act(async () => {
            await navigator.clipboard.writeText(secret)
            return { say: 'Copied' }
          })
        }
      >
        Copy
      </button>{' '}
      <button type="button" className="link" onClick={onDone}>
        Done
      </button>
    </div>
  )
}

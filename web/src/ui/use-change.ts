import { useMutation } from '@tanstack/react-query'
import { useRef } from 'react'

/**
 * Runs what changes something, one at a time: what is begun while another is under way, as by a second press, is left undone. `pending`:
 * one is under way. Errors are the caller's.
 */
export function useChange(): { pending: boolean; run(work: () => Promise<void>): Promise<void> } {
  const busy = useRef(false)
  const { mutateAsync, isPending } = useMutation({
    mutationFn: (work: () => Promise<void>) => work(),
    onSettled: () => {
      busy.current = false
    },
  })
  return {
    pending: isPending,
    async run(work) {
      if (busy.current) return
      busy.current = true
      await mutateAsync(work)
    },
  }
}

import { Dialog } from '@mui/material'
import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { signedOutEvent } from '../api/call.ts'
import { SignIn } from './SignIn.tsx'

/** Asks to sign in again, over what is shown, once the server no longer knows who asks: what was typed stays. */
export function SignedOut() {
  const [out, setOut] = useState(false)
  const client = useQueryClient()
  useEffect(() => {
    const onOut = () => setOut(true)
    window.addEventListener(signedOutEvent, onOut)
    return () => window.removeEventListener(signedOutEvent, onOut)
  }, [])
  if (!out) return null
  return (
    <Dialog open fullWidth maxWidth="xs" aria-label="Sign in again">
      <SignIn
        onIn={() => {
          setOut(false)
          void client.invalidateQueries()
        }}
      />
    </Dialog>
  )
}

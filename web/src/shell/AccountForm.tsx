import { shortestPassword } from '@dew-trail/contract/people'
import { Button, TextField } from '@mui/material'
import { type FormEvent, type ReactNode, useState } from 'react'
import { useChange } from '../ui/use-change.ts'

type Field = 'code' | 'name' | 'email' | 'password'
const labels: Record<Field, string> = {
  code: 'Code from the terminal',
  name: 'Your name',
  email: 'Mail address',
  password: 'Password',
}

/** Asks for what an account is made of, or opened with. `isNew`: the password is a new one. */
export function AccountForm({
  title,
  children,
  fields,
  isNew,
  button,
  onSend,
}: {
  title: string
  children?: ReactNode
  fields: readonly Field[]
  isNew: boolean
  button: string
  onSend(typed: Record<Field, string>): Promise<void>
}) {
  const [typed, setTyped] = useState<Record<Field, string>>({ code: '', name: '', email: '', password: '' })
  const [error, setError] = useState<string | null>(null)
  const sending = useChange()
  const send = (event: FormEvent) => {
    event.preventDefault()
    void sending.run(async () => {
      setError(null)
      try {
        await onSend(typed)
      } catch (failure) {
        setError((failure as Error).message)
      }
    })
  }
  const autoComplete: Record<Field, string> = {
    code: 'off',
    name: 'name',
    email: 'username',
    password: isNew ? 'new-password' : 'current-password',
  }
  return (
    <form onSubmit={send} className="account-form">
      <h1>{title}</h1>
      {children}
      {fields.map((field, i) => (
        <TextField
          key={field}
          label={labels[field]}
          type={field === 'password' ? 'password' : field === 'email' ? 'email' : 'text'}
          required
          autoFocus={i === 0}
          value={typed[field]}
          onChange={event => setTyped({ ...typed, [field]: event.target.value })}
          helperText={
            field === 'password' && isNew ? `At least ${shortestPassword} characters; several words are best` : null
          }
          slotProps={{ htmlInput: { autoComplete: autoComplete[field] } }}
        />
      ))}
      {error && (
        <p className="fall" role="alert">
          {error}
        </p>
      )}
      <Button type="submit" variant="contained" disabled={sending.pending}>
        {button}
      </Button>
    </form>
  )
}

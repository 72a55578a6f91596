import { makeFirstAccount, readMe, signIn } from '@dew-trail/contract/people'
import { call } from '../api/call.ts'
import { useEndpoint } from '../api/use-endpoint.ts'
import { Waiting } from '../api/Waiting.tsx'
import { usePageTitle } from '../ui/ScreenTitle.tsx'
import { AccountForm } from './AccountForm.tsx'

/** The way in: the first account with a code from the terminal, later a mail address and a password. */
export function SignIn({ onIn }: { onIn(): void }) {
  usePageTitle('Sign in')
  const { data, error } = useEndpoint(readMe, {})
  if (!data) return <Waiting error={error} />
  if (data.signIn === 'first')
    return (
      <AccountForm
        title="The first account"
        fields={['code', 'name', 'email', 'password']}
        isNew
        button="Make the account"
        onSend={async typed => {
          await call(makeFirstAccount, typed)
          onIn()
        }}
      >
        <p className="quiet">
          Nobody has an account here yet. The terminal in which Dew Trail was started shows a code, so that only whoever
          runs it can make the first one. It is an administrator and invites the others.
        </p>
      </AccountForm>
    )
  return (
    <AccountForm
      title="Sign in"
      fields={['email', 'password']}
      isNew={false}
      button="Sign in"
      onSend={async ({ email, password }) => {
        await call(signIn, { email, password })
        onIn()
      }}
    >
      <p className="quiet">Forgotten the password? An administrator can give you an address for a new one.</p>
    </AccountForm>
  )
}

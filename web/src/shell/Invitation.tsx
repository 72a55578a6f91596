import { acceptInvitation, readInvitation } from '@dew-trail/contract/people'
import { useQueryClient } from '@tanstack/react-query'
import { useNavigate, useParams } from 'react-router'
import { call } from '../api/call.ts'
import { useEndpoint } from '../api/use-endpoint.ts'
import { usePageTitle } from '../ui/ScreenTitle.tsx'
import { AccountForm } from './AccountForm.tsx'

/** Where somebody who was invited makes their account, or a new password. */
export default function Invitation() {
  usePageTitle('Invitation')
  const { token = '' } = useParams()
  const { data, error } = useEndpoint(readInvitation, { token }, { retry: false })
  const client = useQueryClient()
  const navigate = useNavigate()
  if (!data)
    return (
      <div className="empty">
        <h1>{error ? 'This invitation does not work' : 'Loading'}</h1>
        {error && <p>{error.message}</p>}
      </div>
    )
  return (
    <AccountForm
      title={data.isNewPassword ? 'A new password' : 'Welcome to Dew Trail'}
      fields={data.isNewPassword ? ['password'] : ['name', 'password']}
      isNew
      button={data.isNewPassword ? 'Set it and sign in' : 'Make the account'}
      onSend={async ({ name, password }) => {
        await call(acceptInvitation, { token, password, ...(data.isNewPassword ? {} : { name }) })
        client.clear()
        navigate('/', { replace: true })
      }}
    >
      <p className="quiet">
        {data.isNewPassword
          ? `For ${data.email}. Every browser that is signed in now will have to sign in again.`
          : `${data.madeBy} invited ${data.email}${data.sites.length ? ` to ${data.sites.join(', ')}` : ''}.`}
      </p>
    </AccountForm>
  )
}

import { lazy, Suspense } from 'react'
import { ImportDialog } from '../../imports/ImportDialog.tsx'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { CheckTimes } from './CheckTimes.tsx'

const TrackSetup = lazy(() => import('./TrackSetup.tsx'))

/** The dialogs that the address opens over the positions: when they are checked, what is tracked, and a file of them. */
export function TrackDialogs({ tracked }: { tracked: number }) {
  const [params, changeAddress] = useAddress()
  const close = (key: string) => () => changeAddress(setParam(key, null))
  return (
    <>
      {params.get('times') === 'open' && <CheckTimes tracked={tracked} onClose={close('times')} />}
      {params.get('setup') === 'open' && (
        <Suspense fallback={null}>
          <TrackSetup onClose={close('setup')} />
        </Suspense>
      )}
      {params.get('import') === 'positions' && <ImportDialog kind="positions" onClose={close('import')} />}
    </>
  )
}

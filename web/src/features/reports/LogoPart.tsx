import { setReportLogo } from '@dew-trail/contract/reports'
import { useRef } from 'react'
import { call } from '../../api/call.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

const mostBytes = 500_000

/** The site's logo, which stands on all of its reports. */
export function LogoPart({ hasLogo }: { hasLogo: boolean }) {
  const { site } = useSite()
  const act = useAct()
  const input = useRef<HTMLInputElement>(null)
  const take = (file: File | undefined) => {
    if (!file) return
    void act(async () => {
      if (file.size > mostBytes) throw new Error('A logo may have half a megabyte')
      const bytes = new Uint8Array(await file.arrayBuffer())
      const base64 = btoa(Array.from(bytes, byte => String.fromCharCode(byte)).join(''))
      await call(setReportLogo, { siteId: site.id, logo: { base64 } })
      return { say: "The logo stands on all of the site's reports" }
    })
  }
  return (
    <>
      <button type="button" className="link" onClick={() => input.current?.click()}>
        {hasLogo ? 'Other logo' : 'Logo'}
      </button>
      {hasLogo && (
        <button
          type="button"
          className="link"
          onClick={() => void act(async () => void (await call(setReportLogo, { siteId: site.id, logo: null })))}
        >
          Without
        </button>
      )}
      <input
        ref={input}
        type="file"
        accept="image/png,image/jpeg"
        aria-label="Logo, a PNG or JPEG"
        hidden
        onChange={event => {
          take(event.target.files?.[0])
          event.target.value = ''
        }}
      />
    </>
  )
}

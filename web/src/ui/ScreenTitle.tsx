import { useContext, useEffect } from 'react'
import { siteContext } from './site-context.ts'

/** Names the browser's page after what it shows: "Weigh · kilnandtide.example · Dew Trail". */
export function usePageTitle(title: string): void {
  const domain = useContext(siteContext)?.site.domain
  useEffect(() => {
    document.title = [title, domain, 'Dew Trail'].filter(Boolean).join(' · ')
  }, [title, domain])
}

/** The heading of a screen that shows none, for who hears the page, and its name in the browser. */
export function ScreenTitle({ title }: { title: string }) {
  usePageTitle(title)
  return <h1 className="hidden">{title}</h1>
}

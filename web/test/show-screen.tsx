import { undoAct } from '@dew-trail/contract/acts'
import { AppError } from '@dew-trail/contract/errors'
import type { Endpoint } from '@dew-trail/contract/endpoint'
import { ThemeProvider } from '@mui/material'
import { QueryClientProvider } from '@tanstack/react-query'
import { cleanup, configure, render } from '@testing-library/react'
import userEvent, { type UserEvent } from '@testing-library/user-event'
import type { ReactNode } from 'react'
import { MemoryRouter } from 'react-router'
import { afterEach, beforeAll, vi } from 'vitest'
import type { z } from 'zod'
import { layOut } from './lay-out.ts'
import { OwnThreadWorker } from './own-thread-worker.ts'
import type { WorkerSource } from '../src/rows/worker-source.ts'
import { makeClient } from '../src/api/make-client.ts'
import { Registered } from '../src/Registered.tsx'
import { DialogHost } from '../src/ui/DialogHost.tsx'
import { siteContext } from '../src/ui/site-context.ts'
import { theme } from '../src/theme/theme.ts'
import { loadAllLater } from '../src/ui/later.tsx'
import { takeToasts } from '../src/ui/toast-queue.ts'
import { Toasts } from '../src/ui/Toasts.tsx'

type Requests = { spec: Endpoint; url: string; body: Record<string, unknown> }
/** A file that the program handed to the browser to save. */
export type SavedFile = { name: string; blob: Blob }
export type Answer = { spec: Endpoint; give: (requests: Requests) => unknown }

// Slow machines are allowed for: what never comes is found by any limit.
configure({ asyncUtilTimeout: 5_000 })
beforeAll(loadAllLater)
afterEach(() => {
  cleanup()
  takeToasts()
  vi.unstubAllGlobals()
})

/** What the server is to answer at an endpoint: checked against the contract, so that a test cannot show what never comes. An `Error` is a refusal. */
export function answer<Output extends z.ZodType>(
  spec: Endpoint<z.ZodType, Output>,
  give: (requests: Requests) => z.input<Output> | Error | Promise<z.input<Output> | Error>,
): Answer {
  return {
    spec,
    give: async requests => {
      const given = await give(requests)
      return given instanceof Error ? given : spec.output.parse(given)
    },
  }
}

const undoing = answer(undoAct, () => ({
  id: 1,
  at: '2026-11-29T10:00:00Z',
  title: 'Done',
  who: 'this machine',
  undoneAt: '2026-11-29T10:01:00Z',
}))

function watchDownloads(): SavedFile[] {
  const saved: SavedFile[] = []
  const blobs: Blob[] = []
  URL.createObjectURL = blob => `blob:${blobs.push(blob as Blob) - 1}`
  URL.revokeObjectURL = () => undefined
  vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
    saved.push({ name: this.download, blob: blobs[Number(this.href.slice('blob:'.length))]! })
  })
  return saved
}
/** Lines of a CSV file that was saved. */
export const linesOf = async ({ blob }: SavedFile): Promise<string[]> =>
  (await blob.text()).replace('\ufeff', '').trim().split(/\r?\n/)

/** Rows of the sheet that are drawn, also while a menu is open, which hides the rest from roles. */
export const sheetRows = (): HTMLElement[] => [...document.querySelectorAll<HTMLElement>('.sheet-row')]
export const footText = (): string => document.querySelector('.foot')!.textContent!

/**
 * Renders a part of the program for a made-up site, with the server's answers; tables show what 634 pixels hold. Gives the user and
 * what was asked of the server.
 */
export function showScreen(
  element: ReactNode,
  answers: readonly Answer[],
  path = '/1/weigh',
  keywords: Partial<WorkerSource> = {},
): {
  user: UserEvent
  requests: Requests[]
  /** Acts that were undone, in turn. */
  undone(): number[]
  /** What was sent to an endpoint, call by call. */
  bodies(spec: object): Array<Record<string, unknown>>
  saved: SavedFile[]
} {
  const requests: Requests[] = []
  const saved = watchDownloads()
  layOut(634)
  vi.stubGlobal('Worker', OwnThreadWorker)
  vi.stubGlobal('fetch', async (url: string, init: RequestInit) => {
    const found = [...answers, undoing].find(
      ({ spec }) =>
        spec.method === init.method &&
        new RegExp(`^${spec.path.replace(/:[a-zA-Z]+/g, '[^/]+')}$`).test(url.split('?')[0]!),
    )
    if (!found) return Response.json({ error: { code: 'notFound', message: `Nothing is at ${url}` } }, { status: 404 })
    const call = { spec: found.spec, url, body: typeof init.body === 'string' ? JSON.parse(init.body) : {} }
    requests.push(call)
    const given = await found.give(call)
    if (given instanceof Error)
      return Response.json(
        { error: { code: given instanceof AppError ? given.code : 'badInput', message: given.message } },
        { status: 400 },
      )
    return Response.json(given)
  })
  const market = {
    id: 1,
    engine: 'lantern',
    place: 'tarrow',
    language: 'en',
    device: 'desktop' as const,
    name: null,
    paused: false,
  }
  const site = {
    id: 1,
    domain: 'kilnandtide.example',
    name: 'Kiln & Tide',
    linkingSites: 38,
    linksAskedOn: '2026-11-20',
    levels: [
      {
        marketId: 1,
        level: 61,
        comfortable: 55,
        stretch: 70,
        scaleSites: 312,
        scaleTakenOn: '2026-11-20',
        scaleDeep: true,
      },
    ],
    refreshWeighings: false,
    visitWorth: null,
    firstShare: null,
    averageMonths: 12 as const,
    markets: [market],
  }
  const context = {
    site,
    sites: [site],
    market,
    keywords: keywords as WorkerSource,
    setMarket: () => undefined,
    openPalette: () => undefined,
    openHelp: () => undefined,
  }
  render(
    <ThemeProvider theme={theme}>
      <QueryClientProvider client={makeClient({ retry: false })}>
        <MemoryRouter initialEntries={[path]}>
          <siteContext.Provider value={context}>
            <Registered>
              <DialogHost>{element}</DialogHost>
            </Registered>
          </siteContext.Provider>
        </MemoryRouter>
        <Toasts />
      </QueryClientProvider>
    </ThemeProvider>,
  )
  const bodies = (spec: object) => requests.filter(each => each.spec === spec).map(each => each.body)
  const undone = () => requests.filter(each => each.spec === undoAct).map(({ url }) => Number(url.split('/').at(-2)))
  return { user: userEvent.setup(), requests, bodies, saved, undone }
}

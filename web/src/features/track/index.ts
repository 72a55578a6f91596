import { checkNow } from '@dew-trail/contract/track'
import { call } from '../../api/call.ts'
import type { WebFeature } from '../../feature.ts'
import { formatWhole } from '../../ui/format.ts'
import { trackActions } from './keyword-actions.ts'

export const trackFeature: WebFeature = {
  routes: [{ path: 'track', load: () => import('./TrackScreen.tsx') }],
  destinations: [
    { on: 'trail', path: 'track', label: 'Track', order: 5, count: ({ tracked }) => `${formatWhole(tracked)} watched` },
  ],
  palette: [
    { label: 'Track: what happened, and why', path: 'track?see=changes' },
    { label: 'Track: alerts and their rules', path: 'track?see=alerts' },
    { label: 'Track: begin with keywords', path: 'track?setup=open' },
    { label: 'Track: share of voice', path: 'track?see=voice' },
    { label: 'Track: own pages', path: 'track?see=pages' },
    { label: 'Track: all sites at a glance', path: 'track?see=sites' },
    { label: 'Import positions from a file', path: 'track?import=positions' },
    {
      label: 'Check positions now',
      run: ({ site, act }) =>
        void act(async () => {
          await call(checkNow, { siteId: site.id })
          return { say: 'Checking has started' }
        }),
    },
  ],
  keywordActions: trackActions,
  help: () => import('./help.ts'),
}

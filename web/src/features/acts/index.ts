import type { WebFeature } from '../../feature.ts'
import { showActs, undoLast } from './undo-acts.tsx'

export const actsFeature: WebFeature = {
  palette: [
    { label: 'Undo the last thing done', ctrlKey: 'z', run: ({ site, act }) => void undoLast(site.id, act) },
    { label: 'What was done, with undo', run: ({ show }) => showActs(show) },
  ],
}

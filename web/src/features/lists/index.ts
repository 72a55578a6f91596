import type { WebFeature } from '../../feature.ts'
import { listActions } from './keyword-actions.tsx'

export const listsFeature: WebFeature = { keywordActions: listActions }

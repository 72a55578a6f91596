import { parentPort } from 'node:worker_threads'
import type { KeywordPages } from '@dew-trail/core/themes/keyword-pages'
import { previewThemes, type ThemePreview } from '@dew-trail/core/themes/preview-themes'
import { answerInThread } from '../../platform/jobs/run-in-thread.ts'

export type PreviewQuestion = { packed: KeywordPages; searches: Array<number | null>; compared: number }

answerInThread<PreviewQuestion, ThemePreview[]>(parentPort!, ({ packed, searches, compared }) =>
  previewThemes(packed, searches, compared),
)

import { findPhrases } from '@dew-trail/contract/gather'
import { call } from '../api/call.ts'

/** Keywords of the site that contain a text, most searched first. */
export async function findKeywords(siteId: number, marketId: number, text: string): Promise<string[]> {
  return call(findPhrases, { siteId, marketId, text })
}

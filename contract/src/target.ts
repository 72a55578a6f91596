import { typedAddress } from '@dew-trail/core/web/typed-address'
import { text } from './common.ts'

/** What is looked at: a site, host, folder or page, as it is typed. */
export const targetText = text(2_000).refine(words => typedAddress(words) !== null, {
  error: 'Give a site, host, folder or page, such as clay.example or clay.example/guides/*',
})

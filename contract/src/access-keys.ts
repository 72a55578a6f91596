import { z } from 'zod'
import { id, text } from './common.ts'
import { endpoint } from './endpoint.ts'
import { siteRole } from './people.ts'

const accessKey = z.object({
  id: z.number(),
  name: z.string(),
  /** Its last four characters. */
  hint: z.string(),
  role: siteRole,
  /** Whether it opens every site of the installation. */
  everySite: z.boolean(),
  madeBy: z.string(),
  madeAt: z.string(),
  /** To the minute. */
  lastUsedAt: z.string().nullable(),
  endedAt: z.string().nullable(),
})
export type AccessKey = z.infer<typeof accessKey>

/** Keys with which programs reach a site, ended ones too. */
export const listAccessKeys = endpoint({
  summary: 'Access keys that reach a site',
  role: 'owner',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/access-keys',
  input: z.object({ siteId: id }),
  output: z.array(accessKey),
  oldBy: ['people'],
})
/** Makes a key, which is shown this once; sent as `Authorization: Bearer KEY`. Only an administrator makes one for every site. */
export const makeAccessKey = endpoint({
  summary: 'Make an access key',
  role: 'owner',
  errors: ['badInput', 'notFound', 'notAllowed'],
  method: 'POST',
  path: '/api/sites/:siteId/access-keys',
  input: z.object({
    siteId: id,
    name: text(80).min(1, 'A name is needed'),
    role: siteRole,
    everySite: z.boolean().default(false),
  }),
  output: z.object({ id: z.number(), key: z.string() }),
})
export const endAccessKey = endpoint({
  summary: 'End an access key',
  role: 'owner',
  errors: ['badInput', 'notFound', 'notAllowed'],
  method: 'DELETE',
  path: '/api/sites/:siteId/access-keys/:keyId',
  input: z.object({ siteId: id, keyId: id }),
  output: z.object({}),
})

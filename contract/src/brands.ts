import { z } from 'zod'
import { acted } from './acts.ts'
import { endpoint } from './endpoint.ts'
import { id } from './common.ts'

/** Wordings by which a site is called; what people search for with them is set aside as brand demand. */
export const brand = z.object({
  owner: z.string().trim().min(1, 'Whose words are these?').max(120),
  own: z.boolean(),
  words: z.array(z.string().trim().min(2, 'A brand word has two letters or more').max(80)).max(60),
})
export type BrandWords = z.infer<typeof brand>

export const listBrands = endpoint({
  summary: 'Brand words of a site and its rivals',
  role: 'reader',
  errors: ['badInput', 'notFound'],
  method: 'GET',
  path: '/api/sites/:siteId/brands',
  input: z.object({ siteId: id }),
  output: z.array(brand),
  oldBy: ['brands'],
})
/** Takes the place of all brand words of the site; the site's own name and domain are always among them. */
export const saveBrands = endpoint({
  summary: 'Replace the brand words',
  role: 'editor',
  errors: ['badInput', 'notFound'],
  method: 'PUT',
  path: '/api/sites/:siteId/brands',
  input: z.object({ siteId: id, brands: z.array(brand).max(200) }),
  output: acted.extend({ brands: z.array(brand) }),
})

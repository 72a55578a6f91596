import { z } from 'zod'

/** An address that shows something to whoever knows it, without signing in: its path, null where there is none. */
export const secretLink = z.object({
  address: z.string().nullable(),
  madeOn: z.string().nullable(),
  /** The last day on which it shows anything; null: until it is ended. */
  endsOn: z.string().nullable(),
})
export type SecretLink = z.infer<typeof secretLink>

import { z } from 'zod'
import { endpoint } from './endpoint.ts'

/** How the server is: whether its database answers, and how much room the disk has. `freeMb` null: the system does not tell. */
export const health = z.object({
  ready: z.boolean(),
  databaseAwaySince: z.string().nullable(),
  disk: z.object({ freeMb: z.number().nullable(), low: z.boolean() }),
})
export type Health = z.infer<typeof health>

/** Answers with 200 while the server is ready and with 503, in the same shape, while it waits for its database. */
export const readHealth = endpoint({
  summary: 'Whether the server is ready',
  role: 'anyone',
  errors: [],
  method: 'GET',
  path: '/api/health',
  input: z.object({}),
  output: health,
})

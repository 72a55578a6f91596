import { createHash, randomBytes } from 'node:crypto'

/** A secret that nobody finds by trying: 192 bits. */
export const newToken = (): string => randomBytes(24).toString('base64url')
/** What is kept of one. It is long and random, so a plain hash is enough. */
export const hashToken = (token: string): Buffer => createHash('sha256').update(token).digest()

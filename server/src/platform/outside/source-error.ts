export type SourceErrorKind = 'limited' | 'unavailable' | 'timeout' | 'badReply' | 'quotaUsed' | 'refused'

/** A source that did not answer as it should, in words for the user. `lasting`: trying again at once is of no use. */
export class SourceError extends Error {
  readonly source: string
  readonly kind: SourceErrorKind
  readonly lasting: boolean
  readonly retryAfterMs: number | undefined
  constructor(source: string, kind: SourceErrorKind, message: string, lasting: boolean, retryAfterMs?: number) {
    super(message)
    this.name = 'SourceError'
    this.source = source
    this.kind = kind
    this.lasting = lasting
    this.retryAfterMs = retryAfterMs
  }
}

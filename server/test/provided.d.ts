import 'vitest'

declare module 'vitest' {
  /** What the set-up of the server's tests hands over. */
  export interface ProvidedContext {
    postgres: string
    source: string
    truth: string
    folder: string
  }
}

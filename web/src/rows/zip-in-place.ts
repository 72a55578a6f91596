import { type AsyncZippable, zipSync } from 'fflate/browser'

export * from 'fflate/browser'

/**
 * Packs files at once, where it is called: in the worker that holds the rows. The library's own `zip` starts a worker of its own from a
 * blob for every file of some size, which the content security policy does not let it do, so that large workbooks never came. The build
 * puts this module in the library's place.
 */
export function zip(files: AsyncZippable, done: (error: Error | null, packed: Uint8Array) => void): void {
  try {
    done(null, zipSync(files as Parameters<typeof zipSync>[0]))
  } catch (error) {
    done(error as Error, new Uint8Array())
  }
}

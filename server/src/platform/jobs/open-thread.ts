import { createRequire } from 'node:module'
import { pathToFileURL } from 'node:url'
import { Worker } from 'node:worker_threads'

const loader = new URL('index.mjs', pathToFileURL(createRequire(import.meta.url).resolve('tsx/esm/api')))

/**
 * Opens a thread that runs one of our modules. Node starts a thread without the loader that reads TypeScript, so it is put in first.
 * `memoryMb`: how much it may hold; more ends it with an error.
 */
export const openThread = (module: URL, memoryMb?: number): Worker =>
  new Worker(
    `import(${JSON.stringify(loader.href)}).then(({ register }) => { register(); return import(${JSON.stringify(module.href)}) })`,
    // Rows by the thousand are made and forgotten here: with the usual 16 MB for the young half of the time goes into moving them.
    {
      eval: true,
      resourceLimits: memoryMb
        ? { maxOldGenerationSizeMb: memoryMb, maxYoungGenerationSizeMb: 48 }
        : { maxYoungGenerationSizeMb: 96 },
    },
  )

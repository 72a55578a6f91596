import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import wabt from 'wabt'
import { root } from './lib/stack.ts'

/** Translates core's WebAssembly from its text into the module that holds its bytes. A test sees to it that both agree. */
const folder = join(root, 'core/src/links')
const { parseWat } = await wabt()
const { buffer } = parseWat('page-rank.wat', readFileSync(join(folder, 'page-rank.wat'), 'utf8')).toBinary({})
writeFileSync(
  join(folder, 'page-rank-wasm.ts'),
  `// There in browsers, workers and Node alike, but not in the language's own types.
declare function atob(text: string): string

/** The bytes of page-rank.wat; \`npm run make-wasm\` writes this file. */
export const pageRankWasm = (): Uint8Array<ArrayBuffer> => Uint8Array.from(atob(text), char => char.charCodeAt(0))
const text =
  '${Buffer.from(buffer).toString('base64')}'
`,
)

/** Runs a tool written in TypeScript after installing what it needs: `node scripts/run-tool.mjs bench --json FILE [name…]`. */
import { spawn } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { installPackages, needNode } from './lib/install.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const [tool, ...args] = process.argv.slice(2)
try {
  needNode()
  installPackages(root)
  const child = spawn(process.execPath, ['--import', 'tsx', `${root}scripts/${tool}.ts`, ...args], {
    cwd: root,
    stdio: 'inherit',
  })
  child.on('exit', code => process.exit(code ?? 1))
} catch (error) {
  console.error(/** @type {Error} */ (error).message)
  process.exit(1)
}

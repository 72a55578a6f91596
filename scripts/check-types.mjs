/** Type checks every workspace; two run at a time, because the usual machine has two cores. */
import { spawn } from 'node:child_process'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const projects = ['core', 'core/tsconfig.test.json', 'contract', 'server', 'standin', 'web', 'e2e', 'scripts']

/** @param {string} project @returns {Promise<{project: string, code: number, output: string}>} */
function check(project) {
  return new Promise(resolve => {
    const child = spawn(process.execPath, ['node_modules/typescript/bin/tsc', '-p', project], { cwd: root })
    let output = ''
    child.stdout.on('data', chunk => {
      output += chunk
    })
    child.stderr.on('data', chunk => {
      output += chunk
    })
    child.on('close', code => resolve({ project, code: code ?? 1, output }))
  })
}

let failed = 0
const waiting = [...projects]
await Promise.all(
  [0, 1].map(async () => {
    for (let project = waiting.shift(); project; project = waiting.shift()) {
      const result = await check(project)
      if (result.code !== 0) {
        failed++
        console.error(`types: ${project}\n${result.output}`)
      }
    }
  }),
)
console.log(`types: ${projects.length - failed} of ${projects.length} projects are right`)
process.exit(failed ? 1 : 0)

import { createSite } from '@dew-trail/contract/sites'
import { callServer } from './lib/client.ts'
import { startStack } from './lib/stack.ts'
import { fill } from './bench/link-profile.ts'
const stack = await startStack({ size: 0.1 })
const site = await callServer(stack.server, createSite, { domain: 'large.example', name: 'Large' })
console.log(stack.server, stack.databaseUrl, site.id)
const t=Date.now(); fill(stack, Number(process.argv[2] ?? 2_000_000)); console.log('filled', Date.now()-t)
setInterval(()=>{}, 1e6)

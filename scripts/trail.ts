/** `npm run trail -- COMMAND …`: the program's work from a terminal or a cron line, as thin calls of its API. */
import { runTrail } from './lib/trail-commands.ts'

process.exit(await runTrail(process.argv.slice(2)))

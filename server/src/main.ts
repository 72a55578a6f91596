import { pino } from 'pino'
import { readConfig } from './platform/config.ts'
import { isDatabaseAway, isDiskFull } from './platform/db/database-errors.ts'
import { startServer } from './start-server.ts'

/** Starts the server from its environment; a wrong setting or a used port ends it with one clear line. */
try {
  const config = readConfig(process.env)
  const log = pino({ level: config.LOG_LEVEL })
  // The last net: work that nobody waited for any more must not take the rest with it. After any other error that was thrown out of
  // everything nobody knows what state the process is in, so it ends and is started again.
  process.on('unhandledRejection', error => log.error({ err: error }, 'an error that nobody handled'))
  process.on('uncaughtException', error => {
    log.fatal({ err: error }, 'an error that nobody caught')
    if (!isDatabaseAway(error) && !isDiskFull(error)) process.exit(1)
  })
  const running = await startServer(config, log)
  let closing = false
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.on(signal, () => {
      if (closing) return
      closing = true
      running.close().then(
        () => process.exit(0),
        () => process.exit(1),
      )
    })
  }
} catch (error) {
  const { code, message, port } = error as NodeJS.ErrnoException & { port?: number }
  console.error(
    code === 'EADDRINUSE'
      ? `Port ${port} is in use by another program. Set PORT to another number.`
      : code === 'EACCES'
        ? `Port ${port} needs more rights than this account has. Set PORT to a number above 1024.`
        : message,
  )
  process.exit(1)
}

import { readConfig } from './config.ts'
import { startServer } from './start-server.ts'

/** Starts the server from its environment; a wrong setting or a used port ends it with one clear line. */
try {
  const running = await startServer(readConfig(process.env))
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

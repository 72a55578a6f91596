import type { Server } from 'node:http'
import { afterAll, beforeAll } from 'vitest'

export type Asked = { status: number; headers: Headers; body: any }
export type Listening = {
  port: () => number
  ask: (path: string, body?: unknown, key?: string) => Promise<Asked>
}

/** For tests: a server that listens on a free port while a file's tests run. `ask` reads JSON where the answer is JSON. */
export function listening(server: Server): Listening {
  let port = 0
  beforeAll(async () => {
    await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve))
    const address = server.address()
    port = typeof address === 'object' && address ? address.port : 0
  })
  afterAll(() => {
    server.closeAllConnections()
    server.close()
  })
  return {
    port: () => port,
    async ask(path, body, key = 'k') {
      const response = await fetch(`http://127.0.0.1:${port}${path}`, {
        method: body === undefined ? 'GET' : 'POST',
        headers: { authorization: `Bearer ${key}` },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      })
      const text = await response.text()
      let value: any = text
      try {
        value = JSON.parse(text)
      } catch {
        // CSV and broken bodies stay text.
      }
      return { status: response.status, headers: response.headers, body: value }
    },
  }
}

import { createServer, type IncomingMessage, request } from 'node:http'
import type { AddressInfo } from 'node:net'

/** Hands requests to several servers in turn; one that cannot be reached is passed over. For trials of several processes alone. */
export async function roundRobin(targets: () => readonly string[]): Promise<{ url: string; close(): Promise<void> }> {
  let turn = 0
  const server = createServer((incoming, outgoing) => {
    void bodyOf(incoming).then(body => {
      const ask = (left: number): void => {
        const all = targets()
        const target = all[turn++ % Math.max(1, all.length)]
        if (!target || left === 0) {
          outgoing.writeHead(502).end()
          return
        }
        const { hostname, port, host } = new URL(target)
        const headers = { ...incoming.headers, host, 'content-length': String(body.length) }
        const asked = request(
          { hostname, port, path: incoming.url, method: incoming.method, headers, agent: false },
          answer => {
            outgoing.writeHead(answer.statusCode!, answer.headers)
            answer.pipe(outgoing)
            answer.on('error', () => outgoing.destroy())
          },
        )
        asked.on('error', (error: NodeJS.ErrnoException) => {
          if (error.code === 'ECONNREFUSED') ask(left - 1)
          else if (outgoing.headersSent) outgoing.destroy()
          else outgoing.writeHead(502).end()
        })
        outgoing.on('close', () => asked.destroy())
        asked.end(body)
      }
      ask(4)
    })
  })
  await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve))
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    close: () =>
      new Promise(resolve => {
        server.closeAllConnections()
        server.close(() => resolve())
      }),
  }
}

async function bodyOf(incoming: IncomingMessage): Promise<Buffer> {
  const chunks: Buffer[] = []
  for await (const chunk of incoming) chunks.push(chunk as Buffer)
  return Buffer.concat(chunks)
}

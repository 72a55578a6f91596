import { createServer, type IncomingMessage } from 'node:http'

export type WebAnswer = { status?: number; headers?: Record<string, string>; body?: string | Buffer; wait?: boolean }
/** Host and path → what is answered. */
export type WebPages = Record<string, WebAnswer | ((request: IncomingMessage, times: number) => WebAnswer)>

export const html = (body: string, head = ''): WebAnswer => ({
  headers: { 'content-type': 'text/html; charset=utf-8' },
  body: `<!doctype html><head>${head}</head><body>${body}</body>`,
})

/** A web of a test's own, asked as a proxy in absolute form; what it was asked is in `asked`. `pages` gives the pages that stand now. */
export async function smallWeb(pages: () => WebPages): Promise<{ address: string; requests: string[]; close(): void }> {
  const requests: string[] = []
  const web = createServer((request, response) => {
    const url = request.url!.replace(/^https?:\/\//, '')
    requests.push(url)
    const known = pages()[url]
    const found =
      typeof known === 'function'
        ? known(request, requests.filter(each => each === url).length)
        : (known ?? { status: 404 })
    if (found.wait) return
    response.writeHead(found.status ?? 200, { 'content-type': 'text/html', ...found.headers })
    response.end(found.body ?? '')
  })
  await new Promise<void>(resolve => web.listen(0, '127.0.0.1', () => resolve()))
  const { port } = web.address() as { port: number }
  return {
    address: `http://127.0.0.1:${port}`,
    requests,
    close() {
      web.closeAllConnections()
      web.close()
    },
  }
}

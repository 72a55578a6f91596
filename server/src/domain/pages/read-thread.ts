import { parentPort } from 'node:worker_threads'
import { readBody } from './read-body.ts'
import { readSitemap } from './read-sitemap.ts'

export type ReadQuestion = { page: { body: Uint8Array; contentType: string; url: string } } | { sitemap: Uint8Array }

const bufferOf = ({ buffer, byteOffset, byteLength }: Uint8Array): Buffer =>
  Buffer.from(buffer as ArrayBuffer, byteOffset, byteLength)

parentPort!.on('message', (question: ReadQuestion) => {
  try {
    const answer =
      'page' in question
        ? readBody(bufferOf(question.page.body), question.page.contentType, question.page.url)
        : readSitemap(bufferOf(question.sitemap))
    parentPort!.postMessage({ answer })
  } catch (error) {
    parentPort!.postMessage({ error: String(error) })
  }
})

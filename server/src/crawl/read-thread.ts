import { parentPort } from 'node:worker_threads'
import { readBody } from './read-body.ts'

export type ReadQuestion = { number: number; body: Uint8Array; contentType: string; url: string }

parentPort!.on('message', ({ number, body, contentType, url }: ReadQuestion) => {
  try {
    const facts = readBody(Buffer.from(body.buffer, body.byteOffset, body.byteLength), contentType, url)
    parentPort!.postMessage({ number, facts })
  } catch (error) {
    parentPort!.postMessage({ number, error: String(error) })
  }
})

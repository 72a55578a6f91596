import { HeldRows } from './held-rows.ts'
import type { ToWorker } from './worker-messages.ts'

const held = new HeldRows(message => self.postMessage(message))
self.onmessage = ({ data }: MessageEvent<ToWorker>) => held.receive(data)

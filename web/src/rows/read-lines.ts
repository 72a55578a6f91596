/** The lines of a body, in the groups in which they arrive; empty ones are left out. Throws what reading throws. */
export async function* readLines(body: ReadableStream<Uint8Array>): AsyncGenerator<string[]> {
  const reader = body.getReader()
  const decoder = new TextDecoder()
  // Pieces of a line that has not ended: joined and decoded once, since a line is long and comes in many pieces.
  let pieces: Uint8Array[] = []
  for (;;) {
    const { value, done } = await reader.read()
    if (done) break
    const lines: string[] = []
    let start = 0
    for (let end = value.indexOf(10); end >= 0; end = value.indexOf(10, start)) {
      pieces.push(value.subarray(start, end))
      lines.push(decoder.decode(joined(pieces)))
      pieces = []
      start = end + 1
    }
    if (start < value.length) pieces.push(value.subarray(start))
    yield lines.filter(line => line !== '')
  }
  const last = decoder.decode(joined(pieces))
  if (last) yield [last]
}

function joined(pieces: Uint8Array[]): Uint8Array {
  const out = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0))
  let at = 0
  for (const piece of pieces) {
    out.set(piece, at)
    at += piece.length
  }
  return out
}

/** Numbers that the database sent one after another (int2send, int4send, float4send), in our byte order and in memory of their own. */
export function packedNumbers(bytes: Buffer | null, size: 2 | 4): ArrayBuffer {
  const memory = new ArrayBuffer(bytes?.length ?? 0)
  if (!bytes) return memory
  const own = Buffer.from(memory)
  bytes.copy(own)
  if (size === 4) own.swap32()
  else own.swap16()
  return memory
}

/** So many bytes go to the database at a time. */
const mostBytes = 1_000_000

/** Rows with packed bytes in runs that are sent at a time, the bytes of each run one after another: a list of them would go as text. */
export function* packedRuns<Row>(
  rows: readonly Row[],
  bytesOf: (row: Row) => Uint8Array,
): Generator<{ rows: Row[]; starts: number[]; lengths: number[]; packed: Buffer }> {
  let run: Row[] = []
  let pieces: Uint8Array[] = []
  let [starts, lengths, next]: [number[], number[], number] = [[], [], 1]
  for (const row of rows) {
    const bytes = bytesOf(row)
    run.push(row)
    pieces.push(bytes)
    starts.push(next)
    lengths.push(bytes.length)
    next += bytes.length
    if (next < mostBytes) continue
    yield { rows: run, starts, lengths, packed: Buffer.concat(pieces) }
    ;[run, pieces, starts, lengths, next] = [[], [], [], [], 1]
  }
  if (run.length) yield { rows: run, starts, lengths, packed: Buffer.concat(pieces) }
}

import type { FileBounds } from './file-bounds.ts'

/** Narrow bounds, so that tests can pass them with little. */
export const testBounds: FileBounds = {
  line: 2_000,
  cell: 500,
  columns: 50,
  record: 100_000,
  unpacked: 60_000_000,
  ratio: 100,
  memoryMb: 128,
  seconds: 20,
}

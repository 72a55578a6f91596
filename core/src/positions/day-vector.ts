/**
 * One day's positions of all tracked keywords of a market, by slot number: > 0 the place found, 0 not checked, < 0 checked down to
 * that depth and not found (−100 = not within the first hundred). Two bytes an observation, little-endian. So "not found" and
 * "not checked" never fall together.
 */
export type DayVector = Int16Array

export const notChecked = 0
export const notFound = (depth: number): number => {
  if (!Number.isInteger(depth) || depth < 1 || depth > 1_000)
    throw new RangeError(`depth must be 1 to 1000, not ${depth}`)
  return -depth
}

/** Reads a vector from bytes of any alignment. */
export function decodeDay(bytes: Uint8Array): DayVector {
  if (bytes.length % 2) throw new RangeError(`a day vector has an even number of bytes, not ${bytes.length}`)
  const copy = new Uint8Array(bytes)
  return new Int16Array(copy.buffer)
}
/** Bytes of a vector, sharing its memory. */
export const encodeDay = (vector: DayVector): Uint8Array =>
  new Uint8Array(vector.buffer, vector.byteOffset, vector.byteLength)

/** A vector with `values` put over `base`, grown to the highest slot; slots not named keep what they had. */
export function mergeDay(base: DayVector | null, values: ReadonlyMap<number, number>): DayVector {
  let length = base?.length ?? 0
  for (const slot of values.keys()) {
    if (!Number.isInteger(slot) || slot < 0) throw new RangeError(`a slot is a whole number from 0, not ${slot}`)
    length = Math.max(length, slot + 1)
  }
  const merged = new Int16Array(length)
  if (base) merged.set(base)
  for (const [slot, value] of values) merged[slot] = value
  return merged
}

/** The value of a slot; slots beyond the end were not yet tracked and so not checked. */
export const positionAt = (vector: DayVector | null, slot: number): number => vector?.[slot] ?? notChecked

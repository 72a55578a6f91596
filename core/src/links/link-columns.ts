/**
 * Links to one site, column by column, in order of linking site, linking page, page they lead to and anchor. Ids are the graph's. `rel`,
 * `kind`, `region`: codes (link-codes), region −1 = unknown. Days since 1970: `first` and `last` seen, `gone` since; 0 = unknown, or still
 * there. `dated`: since when it stands is known, not only since when it was met. `secure`: the linking page is read by https. `seenBy`: bits of the
 * sources that know of it (link-codes). `around`: of the words around it, the percentage that are links, 255 = unknown. `language`: of the linking
 * page, as a number that `languageCode` makes of its two letters; 0 = unknown.
 */
export type LinkColumns = {
  count: number
  site: Int32Array
  page: Int32Array
  target: Int32Array
  anchor: Int32Array
  rel: Int16Array
  kind: Uint8Array
  region: Int8Array
  first: Int32Array
  last: Int32Array
  gone: Int32Array
  dated: Uint8Array
  secure: Uint8Array
  seenBy: Int16Array
  around: Uint8Array
  language: Uint16Array
}
/** A two-letter language as a number above 0, and back; 0 and null are unknown. */
export const languageCode = (language: string): number => language.charCodeAt(0) * 256 + language.charCodeAt(1)
export const languageOfCode = (code: number): string | null =>
  code === 0 ? null : String.fromCharCode(code >> 8, code & 255)

/**
 * Which links count: those there now, those gone since a day (since 1970), or all; to some pages alone, or (null) to the whole site; those that one
 * of some sources (bits) knows of, or (null) all.
 */
export type LinkChoice = {
  age: 'there' | 'lost' | 'ever'
  goneSince: number
  targets: ReadonlySet<number> | null
  sources: number | null
}

/** Whether each link counts, 1 or 0. O(links). */
export function chosenLinks(
  { count, gone, target, seenBy }: LinkColumns,
  { age, goneSince, targets, sources }: LinkChoice,
): Uint8Array {
  const chosen = new Uint8Array(count)
  for (let i = 0; i < count; i++) {
    const aged = age === 'ever' || (age === 'there' ? gone[i] === 0 : gone[i]! >= goneSince && gone[i] !== 0)
    const known = sources === null || (seenBy[i]! & sources) !== 0
    if (aged && known && (targets === null || targets.has(target[i]!))) chosen[i] = 1
  }
  return chosen
}

/**
 * Links to one site, column by column, in order of linking site, linking page, page they lead to and anchor. Ids are the graph's. `rel`,
 * `kind`, `region`: codes (link-codes), region −1 = unknown. Days since 1970: `first` and `last` seen, `gone` since; 0 = unknown, or still
 * there. `dated`: since when it stands is known, not only since when it was met. `secure`: the linking page is read by https.
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
}
/** Which links count: those there now, those gone since a day (since 1970), or all; to some pages alone, or (null) to the whole site. */
export type LinkChoice = { age: 'there' | 'lost' | 'ever'; goneSince: number; targets: ReadonlySet<number> | null }

/** Whether each link counts, 1 or 0. O(links). */
export function chosenLinks({ count, gone, target }: LinkColumns, { age, goneSince, targets }: LinkChoice): Uint8Array {
  const chosen = new Uint8Array(count)
  for (let i = 0; i < count; i++) {
    const aged = age === 'ever' || (age === 'there' ? gone[i] === 0 : gone[i]! >= goneSince && gone[i] !== 0)
    if (aged && (targets === null || targets.has(target[i]!))) chosen[i] = 1
  }
  return chosen
}

/**
 * Goes through the keywords of several lists, each in rising order without doubles, and calls `see` once a keyword in rising order with the
 * place it has in each list, −1 where it is not in it. The array is used again. O(keywords × lists), without any memory a keyword.
 */
export function eachTogether(lists: readonly Int32Array[], see: (positions: Int32Array) => void): void {
  const next = new Int32Array(lists.length)
  const positions = new Int32Array(lists.length)
  for (;;) {
    let least = Number.POSITIVE_INFINITY
    for (let l = 0; l < lists.length; l++) {
      const id = lists[l]![next[l]!]
      if (id !== undefined && id < least) least = id
    }
    if (least === Number.POSITIVE_INFINITY) return
    for (let l = 0; l < lists.length; l++) {
      const here = lists[l]![next[l]!] === least
      positions[l] = here ? next[l]!++ : -1
    }
    see(positions)
  }
}

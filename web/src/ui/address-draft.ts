/**
 * The search part of the address as it will be once every change under way has arrived. The router hands out the address of the last
 * render, so two changes close together (a condition whose address follows a moment later, and a click on a view) would each begin
 * from it and the later one would undo the earlier.
 */
export class AddressDraft {
  #path = ''
  #search: string | null = null

  /** Applies a change to what is under way for this path, or else to the address shown. Returns the new search part without "?". */
  change(shown: { pathname: string; search: string }, edit: (params: URLSearchParams) => void): string {
    const base = this.#search !== null && this.#path === shown.pathname ? this.#search : shown.search
    const params = new URLSearchParams(base)
    edit(params)
    this.#path = shown.pathname
    this.#search = params.toString()
    return this.#search
  }

  /** The router shows this address now: what was under way has arrived, or was left for another page or step of the history. */
  arrived(shown: { pathname: string; search: string }, byHistory: boolean): void {
    if (byHistory || this.#path !== shown.pathname || new URLSearchParams(shown.search).toString() === this.#search)
      this.#search = null
  }
}

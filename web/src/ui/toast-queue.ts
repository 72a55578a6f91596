/** Words at the foot of the window for a while, or what went wrong; with at most one thing to press. */
export type Toast = { words: string; wrong?: boolean; forMs: number; action?: { label: string; run(): void } }

const waiting: Toast[] = []
let wake: (() => void) | null = null

/** Shows a toast, as soon as the library that draws them is there: it is loaded with the first one. */
export function showToast(toast: Toast): void {
  waiting.push(toast)
  wake?.()
}

/** Takes all toasts that were not drawn yet. */
export const takeToasts = (): Toast[] => waiting.splice(0)

/** Calls `draw` with every toast that comes; the one that draws them is the last that asked. */
export const onToast = (draw: (() => void) | null): void => {
  wake = draw
}

/** Keywords to learn strengths from and others to judge them by, both spread evenly over all, whatever their order. */
export function splitKeywords(
  phrases: readonly string[],
  learntFrom: number,
  judgedBy: number,
): { training: string[]; held: string[] } {
  const wanted = Math.min(phrases.length, learntFrom + judgedBy)
  const sample = Array.from({ length: wanted }, (_, i) => phrases[Math.floor((i * phrases.length) / wanted)]!)
  const isHeld = (i: number): boolean => (i * judgedBy) % (learntFrom + judgedBy) < judgedBy
  return { training: sample.filter((_, i) => !isHeld(i)), held: sample.filter((_, i) => isHeld(i)) }
}

/**
 * Rows of one group (a number column) in which a figure (another) is the same have that figure together. `follow`: columns that follow from
 * it and are summed once with it; all others are summed row by row.
 */
export type OnceBy = { group: string; figure: string; follow: readonly string[] }
/** Searches of a family, for which the ads data may have one figure, with what is worked out from them. */
export const familyOnce: OnceBy = {
  group: 'family',
  figure: 'searches',
  follow: ['searches', 'visits', 'worth', 'could', 'visitsFirst', 'worthFirst'],
}

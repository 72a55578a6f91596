export type HeadSort = 'product' | 'technique' | 'service' | 'brand'
/** What people search around: a thing, a technique, a service or somebody's name. `weight` is its relative demand. */
export type HeadSpec = { name: string; group: string; weight: number; sort: HeadSort }
/**
 * What people want of it. All `forms` mean the same. `intent` = shares of learn, compare, buy, go to a site, find
 * nearby. In a form, {} is the head, {s} its plural, {o} another head of the group, {c} a city, {b} a maker's brand. `sorts` names the sorts of head it goes with by first letter. `season` is the month of the peak.
 */
export type AspectSpec = {
  name: string
  forms: string[]
  share: number
  intent: number[]
  sorts: string
  season?: number
  groups?: string[]
}

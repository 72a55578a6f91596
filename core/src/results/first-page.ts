import { fallingFit } from './falling-fit.ts'
import { type LevelScale, onScale } from './level-scale.ts'
import { sigmoid } from './logistic.ts'
import {
  curveAt,
  curveReaches,
  type KnownSite,
  type Named,
  newPageStrength,
  type SiteResult,
  resultStrength,
  standingForStrength,
  type Strength,
  type StrengthModel,
} from './strength.ts'

export const chancePositions = [1, 3, 5, 10, 20] as const
export type ChancePosition = (typeof chancePositions)[number]
export type Chances = Record<ChancePosition, number>

const clamp = (x: number, low: number, high: number): number => Math.min(high, Math.max(low, x))

function levelOf(falling: readonly number[], position: number): number {
  const half = Math.max(1, Math.floor(position / 2))
  const from = clamp(position - 1 - half, 0, Math.max(0, falling.length - 3))
  const to = Math.min(position + half, falling.length)
  let sum = 0
  for (let i = from; i < to; i++) sum += falling[i]!
  return sum / (to - from)
}
/**
 * Strengths to be reached for each place k that chances are told of: mean over the places from k − h to k + h, h = k/2 but at least 1 (at the end of what is known, the
 * last three), after `fallingFit`. Single strengths are estimated with much noise and an engine's own cannot rise with the place; three
 * places around the tenth alone gave a rank correlation of difficulty with the truth lower by 0.05. `null` on an empty page.
 */
export function levelsAtPositions(strengths: readonly number[]): Record<ChancePosition, number> | null {
  if (!strengths.length) return null
  const falling = fallingFit(strengths)
  return Object.fromEntries(chancePositions.map(position => [position, levelOf(falling, position)])) as Record<
    ChancePosition,
    number
  >
}

/**
 * Chance (0–1) that a page of strength `own` stands at place ≤ k: σ(c·(a_k·(own − L_k) + b_k)), made monotone in k. a_k and b_k are learnt from pages of which
 * it is not known how well they are made; for a known page c = 1. A new one (`isNew`) is taken to be made as pages are on average, so that this
 * part of the doubt falls away: c = 1/√(1 − `pageShare`). On a page with fewer results than k, L_k is that of the last known place. `null` on an
 * empty result page: nothing is known of it.
 */
export function positionChances(
  own: number,
  strengths: readonly number[],
  model: StrengthModel,
  isNew = true,
): Chances | null {
  const levels = levelsAtPositions(strengths)
  return levels && chancesOver(levels, own, model, isNew)
}
/** Factor by which the chance of a new page is steeper than that of a page whose quality is unknown: 1 or more. */
const surenessOf = (model: StrengthModel, isNew: boolean): number => (isNew ? (1 - (model.pageShare ?? 0)) ** -0.5 : 1)
function chancesOver(
  levels: Record<ChancePosition, number>,
  own: number,
  model: StrengthModel,
  isNew: boolean,
): Chances {
  const sureness = surenessOf(model, isNew)
  let before = 0
  const chances = {} as Chances
  for (const position of chancePositions) {
    const lead = model.slope[position]! * (own - levels[position]) + model.offset[position]!
    before = Math.max(before, sigmoid(sureness * lead))
    chances[position] = before
  }
  return chances
}

/** The places between which the page lands with 60 % (from the 20 % to the 80 % point of the chances); `null` end = beyond 20. */
export function likelyPositions(chances: Chances): { from: number | null; to: number | null } {
  const points: Array<[number, number]> = [
    [0.5, 0],
    ...chancePositions.map((position): [number, number] => [position, chances[position]]),
  ]
  const at = (share: number): number | null => {
    for (let i = 1; i < points.length; i++) {
      const [position, chance] = points[i]!
      const [lastPosition, lastChance] = points[i - 1]!
      if (chance >= share)
        return Math.max(
          1,
          Math.round(lastPosition + ((share - lastChance) / (chance - lastChance || 1)) * (position - lastPosition)),
        )
    }
    return null
  }
  return { from: at(0.2), to: at(0.8) }
}

/**
 * Difficulty 0–100: the share, in %, of the market's sites whose new, well-fitting page would not have an even chance of the first page: the
 * level at which the chance is even, by bisection to 0.01, put on the market's scale. Whether a page can fit is not asked: where the
 * keyword names a site (`names` 'own'), a page that fits is one of that site. `null` on an empty page.
 */
export function difficulty(
  strengths: readonly number[],
  model: StrengthModel,
  scale: LevelScale,
  names: Named = null,
): number | null {
  const needed = neededLevel(strengths, model, names)
  return needed === null ? null : onScale(needed, scale)
}

function neededLevel(strengths: readonly number[], model: StrengthModel, names: Named): number | null {
  const levels = levelsAtPositions(strengths)
  if (!levels) return null
  const chanceAt = (standing: number): number =>
    chancesOver(levels, newPageStrength(standing, model, {}, names), model, true)[10]
  if (chanceAt(0) >= 0.5) return 0
  if (chanceAt(100) < 0.5) return 100
  let low = 0
  let high = 100
  while (high - low > 0.01) {
    const middle = (low + high) / 2
    if (chanceAt(middle) < 0.5) low = middle
    else high = middle
  }
  return (low + high) / 2
}

/**
 * Difficulties up to which a new well-fitting page of a site of this level (0–100 by linking sites), with its record and age, has a first-page
 * chance of at least 0.8 (comfortable) and 0.4 (stretch), on the market's scale.
 */
export function ownLevels(
  siteStanding: number,
  site: KnownSite,
  model: StrengthModel,
  scale: LevelScale,
): { comfortable: number; stretch: number } {
  const strengthOf = (known: KnownSite): number => newPageStrength(siteStanding, model, known)
  const own = curveAt(model.curves.siteStanding, siteStanding) + strengthOf(site) - strengthOf({})
  // At a keyword of difficulty d the chance is even for standing d, so only the lead over d counts.
  const levelFor = (chance: number): number =>
    onScale(
      curveReaches(
        model.curves.siteStanding,
        own - Math.log(chance / (1 - chance)) / (surenessOf(model, true) * model.slope[10]!),
      ),
      scale,
    )
  return { comfortable: levelFor(0.8), stretch: levelFor(0.4) }
}

export type TerrainPosition = {
  position: number
  level: number
  own: boolean
  opening: boolean
  precedent: boolean
  strength: Strength
}
export type Terrain = {
  positions: TerrainPosition[]
  ownLevel: number | null
  lockedTop: number
  openings: number[]
  precedents: number[]
  /** Places of the own site. */
  own: number[]
}

/** How far above the own level a place must stand to count as locked, in points of the scale. */
export const lockedAbove = 10
/** A precedent fits at least this well. */
export const precedentFit = 80

/**
 * The first page as ground: each result's strength as the level of the site whose new well-fitting page would match it, on the market's scale.
 * `ownLevel` is 0–100 by linking sites, as those of the results. Opening: below the own level. Locked top: the first k all at least 10 above it. Precedent: fit ≥ 80 although its site's
 * standing is known and below the own level. An unknown own level gives no openings, locks or precedents, and
 * a keyword that names another site no openings or precedents: there a new page does not fit. Nor is a place of the own site (`ownDomain`) one.
 */
export function terrainOf(
  results: readonly SiteResult[],
  ownLevel: number | null,
  model: StrengthModel,
  scale: LevelScale,
  namesOther = false,
  ownDomain?: string,
): Terrain {
  const ownOnScale = ownLevel === null ? null : onScale(ownLevel, scale)
  const positions = results.map((facts, i) => {
    const own = ownDomain !== undefined && facts.domain === ownDomain
    const open = !namesOther && !own
    const strength = resultStrength(facts, model)
    const level = onScale(standingForStrength(strength.strength, model), scale)
    return {
      position: i + 1,
      level,
      strength,
      own,
      opening: open && ownOnScale !== null && level < ownOnScale,
      precedent:
        open &&
        ownLevel !== null &&
        facts.siteStanding !== null &&
        facts.siteStanding < ownLevel &&
        facts.fit !== null &&
        facts.fit >= precedentFit,
    }
  })
  let lockedTop = 0
  if (ownOnScale !== null)
    while (lockedTop < positions.length && positions[lockedTop]!.level >= ownOnScale + lockedAbove) lockedTop++
  return {
    positions,
    ownLevel: ownOnScale,
    lockedTop,
    openings: positions.filter(each => each.opening).map(each => each.position),
    precedents: positions.filter(each => each.precedent).map(each => each.position),
    own: positions.filter(each => each.own).map(each => each.position),
  }
}

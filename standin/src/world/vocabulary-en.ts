import type { AspectSpec, HeadSpec } from './vocabulary-spec.ts'

const products: Array<[string, string, number]> = [
  ['pottery wheel', 'wheels', 100], ['kick wheel', 'wheels', 14], ['throwing wheel', 'wheels', 20], ['banding wheel', 'wheels', 9], ['mini wheel', 'wheels', 22],
  ['wheel head', 'wheels', 4], ['splash pan', 'wheels', 3], ['bat system', 'wheels', 3],
  ['kiln', 'kilns', 90], ['home kiln', 'kilns', 24], ['electric kiln', 'kilns', 34], ['raku kiln', 'kilns', 12], ['gas kiln', 'kilns', 11], ['front loading kiln', 'kilns', 7],
  ['kiln shelf', 'kilns', 9], ['kiln controller', 'kilns', 8], ['kiln furniture', 'kilns', 6], ['pyrometric cone', 'kilns', 6], ['test kiln', 'kilns', 5],
  ['air dry clay', 'clay', 120], ['stoneware clay', 'clay', 26], ['porcelain clay', 'clay', 30], ['earthenware clay', 'clay', 16], ['terracotta clay', 'clay', 24],
  ['raku clay', 'clay', 6], ['paper clay', 'clay', 14], ['throwing clay', 'clay', 8], ['casting slip', 'clay', 9], ['reclaimed clay', 'clay', 4],
  ['pottery glaze', 'glaze', 40], ['celadon glaze', 'glaze', 10], ['underglaze', 'glaze', 28], ['crackle glaze', 'glaze', 9], ['matte glaze', 'glaze', 9], ['clear glaze', 'glaze', 12],
  ['food safe glaze', 'glaze', 14], ['glaze pencil', 'glaze', 5], ['glaze brush', 'glaze', 5], ['wax resist', 'glaze', 5], ['ash glaze', 'glaze', 4],
  ['pottery tools', 'tools', 36], ['trimming tool', 'tools', 11], ['loop tool', 'tools', 6], ['slab roller', 'tools', 13], ['clay extruder', 'tools', 11], ['pottery rib', 'tools', 5],
  ['wire cutter', 'tools', 6], ['pottery apron', 'tools', 12], ['pug mill', 'tools', 9], ['clay cutter', 'tools', 8], ['texture roller', 'tools', 5], ['pottery sponge', 'tools', 3],
  ['pottery kit', 'kits', 48], ['clay kit', 'kits', 26], ['glaze kit', 'kits', 9], ['starter set', 'kits', 10],
  ['ceramic mug', 'wares', 44], ['stoneware plate', 'wares', 22], ['handmade bowl', 'wares', 20], ['ceramic vase', 'wares', 38], ['clay planter', 'wares', 22], ['tea bowl', 'wares', 11],
  ['pottery gift', 'wares', 18], ['ceramic tile', 'wares', 26], ['butter dish', 'wares', 14], ['incense holder', 'wares', 16],
]
const techniques: Array<[string, string, number]> = [
  ['wheel throwing', 'technique', 18], ['hand building', 'technique', 12], ['slab building', 'technique', 8], ['coil pot', 'technique', 15], ['pinch pot', 'technique', 17],
  ['slip casting', 'technique', 14], ['sgraffito', 'technique', 12], ['raku firing', 'technique', 11], ['bisque firing', 'technique', 10], ['clay wedging', 'technique', 7],
  ['centering clay', 'technique', 9], ['pot trimming', 'technique', 6], ['pulling handles', 'technique', 5], ['glaze mixing', 'technique', 6], ['clay drying', 'technique', 8],
  ['pit firing', 'technique', 7], ['clay recycling', 'technique', 5], ['crack repair', 'technique', 6], ['pot decorating', 'technique', 7], ['kiln loading', 'technique', 4],
]
const services: Array<[string, string, number]> = [
  ['pottery class', 'studio', 70], ['pottery studio', 'studio', 40], ['ceramics course', 'studio', 22], ['pottery party', 'studio', 16], ['kiln hire', 'studio', 9],
  ['pottery workshop', 'studio', 30], ['firing service', 'studio', 8], ['glaze workshop', 'studio', 6], ['pottery membership', 'studio', 5], ['clay supplier', 'studio', 12],
]

export const headsEn: HeadSpec[] = [
  ...products.map(([name, group, weight]) => ({ name, group, weight, sort: 'product' as const })),
  ...techniques.map(([name, group, weight]) => ({ name, group, weight, sort: 'technique' as const })),
  ...services.map(([name, group, weight]) => ({ name, group, weight, sort: 'service' as const })),
]

/** {} is the head, {s} its plural, {o} another head of the same group, {c} a city, {b} a maker's brand. */
export const aspectsEn: AspectSpec[] = [
  { name: 'plain', forms: ['{}', '{s}', '{} online'], share: 1, intent: [0.3, 0.2, 0.4, 0.05, 0.05], sorts: 'pts' },
  { name: 'beginner', forms: ['{} for beginners', 'beginner {}', 'beginners {}', 'easy {} for beginners'], share: 0.32, intent: [0.3, 0.4, 0.3, 0, 0], sorts: 'pts' },
  { name: 'kids', forms: ['{} for kids', 'kids {}', '{} for children'], share: 0.24, intent: [0.2, 0.3, 0.45, 0, 0.05], sorts: 'pts', season: 12 },
  { name: 'adults', forms: ['{} for adults', 'adult {}'], share: 0.14, intent: [0.2, 0.3, 0.45, 0, 0.05], sorts: 'ps' },
  { name: 'best', forms: ['best {}', '{} reviews', 'top rated {}', 'best {s} reviewed'], share: 0.26, intent: [0.1, 0.7, 0.2, 0, 0], sorts: 'ps' },
  { name: 'cheap', forms: ['cheap {}', '{} on a budget', 'affordable {}', 'low cost {}'], share: 0.15, intent: [0.05, 0.35, 0.6, 0, 0], sorts: 'ps' },
  { name: 'price', forms: ['{} price', 'how much does a {} cost', '{} cost', '{} prices'], share: 0.2, intent: [0.25, 0.4, 0.35, 0, 0], sorts: 'ps' },
  { name: 'sale', forms: ['{} for sale', 'buy {}', '{} shop', '{} sale'], share: 0.28, intent: [0, 0.1, 0.85, 0, 0.05], sorts: 'p' },
  { name: 'used', forms: ['used {}', 'second hand {}', '{} second hand'], share: 0.14, intent: [0, 0.2, 0.75, 0, 0.05], sorts: 'p' },
  { name: 'small', forms: ['small {}', 'mini {}', 'tabletop {}', '{} for small spaces'], share: 0.2, intent: [0.1, 0.35, 0.55, 0, 0], sorts: 'p' },
  { name: 'home', forms: ['{} for home', '{} at home', 'home use {}'], share: 0.22, intent: [0.35, 0.3, 0.35, 0, 0], sorts: 'pt' },
  { name: 'professional', forms: ['professional {}', '{} for studios', 'studio {}'], share: 0.1, intent: [0.1, 0.4, 0.5, 0, 0], sorts: 'p' },
  { name: 'kit', forms: ['{} kit', '{} set', '{} starter kit'], share: 0.22, intent: [0.05, 0.25, 0.7, 0, 0], sorts: 'pt', season: 12 },
  { name: 'diy', forms: ['diy {}', 'how to make a {}', 'make your own {}', 'build a {}'], share: 0.22, intent: [0.95, 0.05, 0, 0, 0], sorts: 'p' },
  { name: 'use', forms: ['how to use a {}', 'using a {}', '{} instructions', 'how do you use a {}'], share: 0.2, intent: [0.98, 0.02, 0, 0, 0], sorts: 'p' },
  { name: 'how', forms: ['how to do {}', '{} step by step', '{} tutorial', 'learn {}'], share: 0.5, intent: [0.97, 0.03, 0, 0, 0], sorts: 't' },
  { name: 'what', forms: ['what is {}', '{} meaning', '{} explained', 'what does {} mean'], share: 0.3, intent: [1, 0, 0, 0, 0], sorts: 'ptg' },
  { name: 'why-crack', forms: ['why does my {} crack', '{} cracking', '{} cracks', 'how to stop {} cracking'], share: 0.11, intent: [1, 0, 0, 0, 0], sorts: 'pt' },
  { name: 'clean', forms: ['how to clean a {}', '{} cleaning', '{} maintenance', 'when to clean a {}'], share: 0.08, intent: [0.95, 0.05, 0, 0, 0], sorts: 'p' },
  { name: 'long', forms: ['how long does {} take', '{} time', '{} how long', 'how many hours does {} take'], share: 0.13, intent: [1, 0, 0, 0, 0], sorts: 't' },
  { name: 'which', forms: ['which {} is best', 'which {} to buy', 'what {} should i buy'], share: 0.09, intent: [0.15, 0.8, 0.05, 0, 0], sorts: 'p' },
  { name: 'worth', forms: ['is a {} worth it', 'are {s} worth it', 'should i buy a {}'], share: 0.06, intent: [0.3, 0.7, 0, 0, 0], sorts: 'ps' },
  { name: 'versus', forms: ['{} vs {o}', '{o} or {}', 'difference between {} and {o}', '{} compared to {o}'], share: 0.1, intent: [0.5, 0.5, 0, 0, 0], sorts: 'pt' },
  { name: 'without', forms: ['{} without electricity', '{} without a kiln', 'without a {}'], share: 0.1, intent: [0.8, 0.15, 0.05, 0, 0], sorts: 'pt' },
  { name: 'near', forms: ['{} near me', '{} nearby', '{s} near me', 'where to find a {}'], share: 0.3, intent: [0, 0.1, 0.2, 0, 0.7], sorts: 'ps' },
  { name: 'city', forms: ['{} {c}', '{s} {c}', '{} in {c}', 'best {} {c}'], share: 0.24, intent: [0, 0.2, 0.2, 0, 0.6], sorts: 's' },
  { name: 'ideas', forms: ['{} ideas', '{} inspiration', '{} designs', 'simple {} ideas'], share: 0.24, intent: [0.85, 0.1, 0.05, 0, 0], sorts: 'pt', season: 11 },
  { name: 'gift', forms: ['{} gift', '{} gift voucher', '{} present'], share: 0.12, intent: [0, 0.3, 0.7, 0, 0], sorts: 'ps', season: 12 },
  { name: 'brand', forms: ['{b} {}', '{b} {s}', '{b} {} review'], share: 0.12, intent: [0.05, 0.3, 0.35, 0.3, 0], sorts: 'p' },
  { name: 'size', forms: ['{} size', '{} dimensions', 'what size {} do i need'], share: 0.07, intent: [0.6, 0.3, 0.1, 0, 0], sorts: 'p' },
  { name: 'parts', forms: ['{} parts', '{} accessories', '{} spares'], share: 0.09, intent: [0.05, 0.15, 0.8, 0, 0], sorts: 'p' },
  { name: 'video', forms: ['{} video', '{} videos', 'watch {}'], share: 0.1, intent: [0.95, 0, 0, 0.05, 0], sorts: 't' },
  { name: 'safety', forms: ['is {} safe', '{} safety', 'can {} be dangerous'], share: 0.07, intent: [1, 0, 0, 0, 0], sorts: 'pt' },
  { name: 'temperature', forms: ['{} temperature', 'what temperature for {}', '{} firing temperature', '{} cone chart'], share: 0.1, intent: [1, 0, 0, 0, 0], sorts: 'pt', groups: ['kilns', 'clay', 'glaze', 'technique'] },
  { name: 'recipe', forms: ['{} recipe', '{} recipes', 'how to mix {}', 'homemade {}'], share: 0.18, intent: [1, 0, 0, 0, 0], sorts: 'p', groups: ['clay', 'glaze'] },
  { name: 'colours', forms: ['{} colours', '{} colour chart', '{} with colour'], share: 0.12, intent: [0.4, 0.3, 0.3, 0, 0], sorts: 'p', groups: ['clay', 'glaze', 'wares'] },
  { name: 'school', forms: ['{} for schools', 'school {}', '{} for classrooms'], share: 0.06, intent: [0.3, 0.3, 0.4, 0, 0], sorts: 'p', season: 9 },
  { name: 'opening', forms: ['{} opening hours', '{} prices per hour', '{} booking', '{} open today'], share: 0.12, intent: [0, 0, 0.2, 0.3, 0.5], sorts: 's' },
  { name: 'date', forms: ['{} date night', '{} for couples', 'couples {}'], share: 0.18, intent: [0, 0.2, 0.3, 0, 0.5], sorts: 's', season: 2 },
  { name: 'supplies', forms: ['{} supplies', '{} supplier', '{} wholesale', '{} bulk'], share: 0.1, intent: [0, 0.2, 0.75, 0, 0.05], sorts: 'p' },
]
export const brandsEn = ['torvane', 'kessomar', 'brellin', 'ostrava mill', 'hadlow and fenn', 'quillspin']
export const adjectivesEn = ['large', 'portable', 'quiet', 'heavy duty', 'white', 'black', 'adjustable', 'wooden', 'foldable', 'lightweight', 'compact', 'modern', 'traditional', 'natural', 'fine', 'coarse', 'red', 'blue', 'green', 'speckled', 'waterproof', 'left handed', 'battery', 'manual', 'vintage', 'reusable', 'smooth', 'strong', 'eco', 'deluxe']

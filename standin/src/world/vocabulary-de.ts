import type { AspectSpec, HeadSpec } from './vocabulary-spec.ts'

const rows: Array<[string, string, number, 'product' | 'technique' | 'service']> = [
  ['töpferscheibe', 'wheels', 60, 'product'], ['drehscheibe', 'wheels', 16, 'product'], ['brennofen', 'kilns', 48, 'product'], ['keramikofen', 'kilns', 12, 'product'],
  ['ton', 'clay', 40, 'product'], ['lufttrocknender ton', 'clay', 34, 'product'], ['modelliermasse', 'clay', 30, 'product'], ['porzellanmasse', 'clay', 8, 'product'], ['gießmasse', 'clay', 9, 'product'],
  ['keramikglasur', 'glaze', 26, 'product'], ['engobe', 'glaze', 12, 'product'], ['unterglasur', 'glaze', 8, 'product'], ['töpferwerkzeug', 'tools', 18, 'product'], ['tonroller', 'tools', 4, 'product'],
  ['töpferset', 'kits', 24, 'product'], ['keramiktasse', 'wares', 26, 'product'], ['keramikvase', 'wares', 20, 'product'],
  ['töpfern', 'technique', 44, 'technique'], ['aufbaukeramik', 'technique', 8, 'technique'], ['glasieren', 'technique', 12, 'technique'], ['rakubrand', 'technique', 8, 'technique'], ['schrühbrand', 'technique', 6, 'technique'],
  ['töpferkurs', 'studio', 38, 'service'], ['töpferei', 'studio', 26, 'service'], ['keramikworkshop', 'studio', 12, 'service'],
]
export const headsDe: HeadSpec[] = rows.map(([name, group, weight, sort]) => ({ name, group, weight, sort }))

export const aspectsDe: AspectSpec[] = [
  { name: 'plain', forms: ['{}', '{} online', '{} info'], share: 1, intent: [0.3, 0.2, 0.4, 0.05, 0.05], sorts: 'pts' },
  { name: 'beginner', forms: ['{} für anfänger', '{} anfänger', '{} für einsteiger'], share: 0.3, intent: [0.4, 0.35, 0.25, 0, 0], sorts: 'pts' },
  { name: 'kids', forms: ['{} für kinder', 'kinder {}', '{} kinder'], share: 0.26, intent: [0.2, 0.3, 0.45, 0, 0.05], sorts: 'pts', season: 12 },
  { name: 'best', forms: ['beste {}', '{} test', '{} vergleich'], share: 0.24, intent: [0.1, 0.7, 0.2, 0, 0], sorts: 'ps' },
  { name: 'cheap', forms: ['günstige {}', '{} günstig', 'billige {}'], share: 0.16, intent: [0, 0.3, 0.7, 0, 0], sorts: 'ps' },
  { name: 'sale', forms: ['{} kaufen', '{} shop', '{} bestellen'], share: 0.34, intent: [0, 0.1, 0.9, 0, 0], sorts: 'p' },
  { name: 'used', forms: ['gebrauchte {}', '{} gebraucht'], share: 0.16, intent: [0, 0.2, 0.8, 0, 0], sorts: 'p' },
  { name: 'price', forms: ['{} preis', 'was kostet {}', '{} kosten'], share: 0.2, intent: [0.3, 0.4, 0.3, 0, 0], sorts: 'ps' },
  { name: 'small', forms: ['kleine {}', 'mini {}', '{} klein'], share: 0.14, intent: [0.1, 0.3, 0.6, 0, 0], sorts: 'p' },
  { name: 'home', forms: ['{} zuhause', '{} für zuhause', '{} daheim'], share: 0.2, intent: [0.4, 0.3, 0.3, 0, 0], sorts: 'pt' },
  { name: 'diy', forms: ['{} selber machen', '{} selber bauen', '{} selbst machen'], share: 0.24, intent: [0.97, 0.03, 0, 0, 0], sorts: 'p' },
  { name: 'how', forms: ['{} anleitung', 'wie geht {}', '{} lernen'], share: 0.34, intent: [0.98, 0.02, 0, 0, 0], sorts: 'pt' },
  { name: 'what', forms: ['was ist {}', '{} bedeutung', '{} erklärung'], share: 0.2, intent: [1, 0, 0, 0, 0], sorts: 'pt' },
  { name: 'without', forms: ['{} ohne ofen', '{} ohne brennen', '{} ohne strom'], share: 0.14, intent: [0.8, 0.15, 0.05, 0, 0], sorts: 'pt' },
  { name: 'versus', forms: ['{} oder {o}', 'unterschied {} und {o}', '{} gegen {o}'], share: 0.09, intent: [0.5, 0.5, 0, 0, 0], sorts: 'pt' },
  { name: 'near', forms: ['{} in der nähe', '{} nähe', 'wo finde ich {}'], share: 0.28, intent: [0, 0.1, 0.2, 0, 0.7], sorts: 'ps' },
  { name: 'city', forms: ['{} {c}', '{} in {c}', 'beste {} {c}'], share: 0.2, intent: [0, 0.2, 0.2, 0, 0.6], sorts: 's' },
  { name: 'ideas', forms: ['{} ideen', '{} inspiration', 'einfache {} ideen'], share: 0.24, intent: [0.85, 0.1, 0.05, 0, 0], sorts: 'pt', season: 11 },
  { name: 'gift', forms: ['{} geschenk', '{} gutschein', '{} verschenken'], share: 0.12, intent: [0, 0.3, 0.7, 0, 0], sorts: 'ps', season: 12 },
  { name: 'temperature', forms: ['{} temperatur', 'welche temperatur {}', '{} brenntemperatur'], share: 0.1, intent: [1, 0, 0, 0, 0], sorts: 'pt' },
]
export const brandsDe = ['torvane', 'kessomar', 'brellin']
export const adjectivesDe = ['grosse', 'leise', 'tragbare', 'weisse', 'schwarze', 'rote', 'feine', 'grobe', 'moderne', 'klassische', 'stabile', 'elektrische', 'robuste', 'einfache', 'blaue', 'schöne', 'neue', 'alte', 'handgemachte', 'leichte', 'schwere', 'natürliche']

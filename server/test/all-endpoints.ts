import * as acts from '@dew-trail/contract/acts'
import * as brands from '@dew-trail/contract/brands'
import * as crawl from '@dew-trail/contract/crawl'
import type { Endpoint } from '@dew-trail/contract/endpoint'
import * as finds from '@dew-trail/contract/finds'
import * as gather from '@dew-trail/contract/gather'
import * as group from '@dew-trail/contract/group'
import * as health from '@dew-trail/contract/health'
import * as imports from '@dew-trail/contract/imports'
import * as jobs from '@dew-trail/contract/jobs'
import * as linkProfile from '@dew-trail/contract/link-profile'
import * as linkLists from '@dew-trail/contract/link-lists'
import * as links from '@dew-trail/contract/links'
import * as lists from '@dew-trail/contract/lists'
import * as log from '@dew-trail/contract/log'
import * as notes from '@dew-trail/contract/notes'
import * as places from '@dew-trail/contract/places'
import * as plan from '@dew-trail/contract/plan'
import * as prospects from '@dew-trail/contract/prospects'
import * as rivals from '@dew-trail/contract/rivals'
import * as schedules from '@dew-trail/contract/schedules'
import * as sites from '@dew-trail/contract/sites'
import * as sources from '@dew-trail/contract/sources'
import * as track from '@dew-trail/contract/track'
import * as views from '@dew-trail/contract/views'
import * as weigh from '@dew-trail/contract/weigh'

const modules = [
  acts,
  brands,
  crawl,
  finds,
  gather,
  group,
  health,
  imports,
  jobs,
  linkLists,
  linkProfile,
  links,
  lists,
  log,
  notes,
  places,
  plan,
  prospects,
  rivals,
  schedules,
  sites,
  sources,
  track,
  views,
  weigh,
]

const isEndpoint = (value: unknown): value is Endpoint =>
  typeof value === 'object' && value !== null && 'method' in value && 'path' in value && 'input' in value

/** Every endpoint of the contract with its name. */
export const allEndpoints: Array<[name: string, spec: Endpoint]> = modules.flatMap(module =>
  Object.entries(module).flatMap(([name, value]) => (isEndpoint(value) ? [[name, value] as [string, Endpoint]] : [])),
)

const site = { siteId: 1 }
const market = { ...site, marketId: 1 }
const keyword = { ...market, keywordId: 1 }
const grouping = { ...site, groupingId: 1 }
const day = '2026-11-20'

/** An input that each endpoint takes, by its name; ids stand for those of a site that is there. */
export const samples: Record<string, Record<string, unknown>> = {
  listActs: site,
  undoAct: { ...site, actId: 1 },
  readRivalProfiles: { ...market, targets: ['clay.example'] },
  listPaidKeywords: { ...market, target: 'clay.example' },
  listRankedKeywords: { ...market, target: 'clay.example' },
  listLandingPages: { ...market, target: 'clay.example' },
  listRivals: market,
  loadRankings: { ...market, targets: ['clay.example'] },
  takeOverKeywords: { ...market, known: [1] },
  listRivalMonths: { ...market, targets: ['clay.example'] },
  listSweeps: market,
  setSweep: { ...market, part: 'full', rhythm: { every: 'month', hour: 3, dayOfMonth: 1 } },
  startSweep: { ...market, part: 'weekly' },
  readMonthChanges: { ...market, target: 'clay.example', before: '2026-09', month: '2026-10' },
  judgeRival: { ...site, domain: 'clay.example', state: 'accepted' },
  readOverlap: { ...market, targets: ['clay.example', 'kiln.example'] },
  listOverlap: { ...market, targets: ['clay.example', 'kiln.example'], masks: [1] },
  listBrands: site,
  saveBrands: { ...site, brands: [] },
  startCrawl: { ...site, domains: ['clay.example'], mostPages: 1 },
  listCrawls: site,
  listCrawlErrors: { ...site, crawlId: 1 },
  readPage: { ...site, url: 'https://clay.example/' },
  startGathering: { ...market, parentId: 1, seeds: ['kiln'], mostIdeas: 10, ways: ['ads'] },
  listGatherings: site,
  pruneGathering: { ...site, gatheringId: 1, pruned: true },
  findNames: { ...site, phrases: ['kiln'], endings: ['.example'] },
  keepKeywords: { ...site, keywordIds: [1], kept: true },
  listFindLists: site,
  readFinds: { ...site, findListId: 1 },
  putOnFindList: { ...site, kind: 'sites', name: 'A list', items: [{ what: 'clay.example' }] },
  changeFindList: { ...site, findListId: 1, name: 'Another' },
  removeFindList: { ...site, findListId: 1 },
  remarkFind: { ...site, findListId: 1, itemId: 1, remark: 'Good' },
  takeOffFindList: { ...site, findListId: 1, itemIds: [1] },
  keepPhrases: { ...market, phrases: ['kiln'] },
  listGroupings: market,
  countToGroup: { ...market, from: { kind: 'kept' } },
  createGrouping: { ...market, from: { kind: 'rows', keywordIds: [1] }, basis: 'words' },
  readGrouping: grouping,
  changeGrouping: { ...grouping, name: 'Another' },
  removeGrouping: grouping,
  refreshGrouping: { ...grouping, oldestDays: 0 },
  chooseThemes: { ...grouping, threshold: 4, method: 'lead' },
  listThemes: { ...grouping, threshold: 3 },
  readTheme: { ...grouping, lead: 1 },
  listGroupedKeywords: grouping,
  moveToTheme: { ...grouping, keywordIds: [1], themeId: 1 },
  mergeThemes: { ...grouping, themeId: 1, themeIds: [1] },
  changeTheme: { ...grouping, themeId: 1, leadId: 1 },
  planThemes: { ...grouping, themeIds: [1] },
  listCompeting: grouping,
  checkGrouping: { ...grouping, threshold: 3 },
  compareGroupings: { ...grouping, besideId: 1 },
  findPhrases: { ...market, text: 'kiln' },
  askFigures: { ...market, keywordIds: [1] },
  readHealth: {},
  listEngines: {},
  runImport: { ...market, importId: 1, mapping: { phrase: 0 } },
  listJobs: site,
  getJob: { jobId: 1 },
  actOnJob: { jobId: 1, action: 'pause' },
  readLinkProfile: { ...site, url: 'https://clay.example/', scope: 'site', keywordId: 1 },
  listLinks: { ...site, url: 'https://clay.example/', scope: 'site' },
  listSharedLinkers: { ...site, domains: ['clay.example', 'kiln.example'] },
  readLinkFigures: { ...site, targets: ['clay.example'] },
  listLinkingSites: { ...site, target: 'clay.example' },
  listTargetLinks: { ...site, target: 'clay.example' },
  listTargetAnchors: { ...site, target: 'clay.example' },
  listLinkedPages: { ...site, target: 'clay.example' },
  listLinkSources: site,
  readLinkKinds: { ...site, target: 'clay.example' },
  readNeighbourhood: { ...site, target: 'clay.example' },
  listSiteRanking: site,
  listDisavowed: site,
  setDisavowed: { ...site, domains: ['clay.example'], on: true },
  setCleared: { ...site, domains: ['clay.example'], on: true },
  listProspects: site,
  addProspects: { ...site, sites: [{ domain: 'clay.example' }] },
  changeProspect: { ...site, prospectId: 1, version: 1, state: 'asked' },
  removeProspects: { ...site, prospectIds: [1] },
  loadFeeds: { ...site, domains: ['clay.example'] },
  rankLinks: site,
  listFeeds: site,
  verifyLinks: { ...site, pages: ['https://clay.example/'] },
  readLinkState: site,
  readStandings: site,
  listVetted: site,
  vetSite: { ...site, domain: 'clay.example', kind: 'institution' },
  refuseSite: { ...site, domain: 'clay.example' },
  readLogState: site,
  loadLog: { ...market, property: 'domain:clay.example', weeks: 1 },
  readClickCurves: site,
  listNotes: site,
  addNote: { ...site, day: '2026-11-20', text: 'New shop' },
  changeNote: { ...site, noteId: 1, day: '2026-11-20', text: 'New shop', version: 1 },
  removeNote: { ...site, noteId: 1 },
  listCheckSchedules: site,
  setCheckSchedule: { ...market, rhythm: { every: 'day', hour: 6 } },
  setTimeZone: { ...site, timeZone: 'UTC' },
  listPages: { ...market, today: day },
  createPage: { ...site, title: 'A page', keywordIds: [1] },
  changePage: { ...site, pageId: 1, title: 'Another' },
  removePage: { ...site, pageId: 1 },
  assignKeywords: { ...site, pageId: 1, keywordIds: [1] },
  listLists: site,
  addList: { ...site, kind: 'label', name: 'A name' },
  renameList: { ...site, listId: 1, name: 'Another' },
  removeList: { ...site, listId: 1 },
  changeList: { ...site, listId: 1, keywordIds: [1], on: true },
  listSites: {},
  createSite: { domain: 'new.example', name: 'New' },
  changeSite: { ...site, refreshWeighings: true },
  removeSite: { ...site, domain: 'not.this.example' },
  addMarket: { ...site, engine: 'lantern', place: 'tarrow', language: 'en', device: 'desktop' },
  changeMarket: { ...market, paused: false },
  removeMarket: market,
  getTrail: market,
  listSources: site,
  limitSource: { key: 'ads', mostADay: null },
  listImports: site,
  suggestCrawls: site,
  trackKeywords: { ...site, keywordIds: [1], tracked: true },
  checkNow: { ...site, keywordIds: [1] },
  listPositions: { ...market, compareDays: 7 },
  listVisibility: { ...market, days: 30 },
  keywordHistory: { ...site, keywordId: 1, days: 30 },
  listViews: { sheet: 'gather' },
  saveView: { sheet: 'gather', name: 'v', state: { where: [], sort: '', columns: [] } },
  removeView: { viewId: 1 },
  startWeighing: { ...market, keywordIds: [1] },
  getFirstPage: keyword,
  readFirstPages: { ...market, keywordIds: [1] },
  getStrengths: site,
  learnStrengths: market,
  readPredictions: { ...site, engine: 'lantern', device: 'desktop', today: day },
  listTowns: site,
  readTown: { ...site, town: 'lindle' },
  listDoubtfulListings: { ...site, town: 'lindle' },
  listPlaceGrids: site,
  createPlaceGrid: {
    ...site,
    town: 'lindle',
    engine: 'lantern',
    language: 'en',
    keywords: ['pottery class'],
    businesses: ['b2000'],
    latitude: 47.4,
    longitude: -28.6,
    size: 3,
    spacing: 500,
  },
  changePlaceGrid: { ...site, gridId: 1, version: 1, name: 'Another' },
  removePlaceGrid: { ...site, gridId: 1 },
  startPlaceRun: { ...site, gridId: 1 },
  removePlaceRun: { ...site, runId: 1 },
  setPlaceSchedule: { ...site, gridId: 1, rhythm: { every: 'day', hour: 6 } },
  readPlaceRun: { ...site, runId: 1 },
  listPlaceSums: { ...site, gridId: 1 },
  putPageBeside: { ...keyword, url: 'https://clay.example/' },
}

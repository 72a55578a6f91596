import { z } from 'zod'
import { id } from './common.ts'
import { endpoint } from './endpoint.ts'
import { job } from './jobs.ts'

/** When backups are made by themselves, by the clock of UTC, and how many are kept: older ones of their own are removed. */
export const backupPlan = z.object({
  every: z.enum(['never', 'day', 'week']),
  hour: z.number().int().min(0).max(23),
  /** 1 (Monday) to 7; of weekly ones. */
  weekday: z.number().int().min(1).max(7),
  keep: z.number().int().min(1, 'Keep at least one').max(365),
})
export type BackupPlan = z.infer<typeof backupPlan>

/** For how many days something is kept; null: for ever. */
const days = z.number().int().min(1).max(36_500).nullable()
export const retention = z.object({
  /** Titles, snippets and features of older result pages; the newest of a keyword, and all positions, stay. */
  resultTexts: days,
  /** Results beyond the 30th and beyond the 10th, and all results, of months gone by; the latest page of a keyword stays whole. */
  results30: days,
  results10: days,
  results: days,
  /** Texts of pages that the crawler read; what was counted of them stays. */
  pageTexts: days,
  /** Finished work and its warnings, errors of imports. */
  workLog: days,
  /** Who did what. */
  activity: days,
})
export type Retention = z.infer<typeof retention>

export const spaceKinds = [
  'keywords',
  'results',
  'resultTexts',
  'positions',
  'links',
  'pageTexts',
  'logs',
  'other',
] as const
const backup = z.object({ name: z.string(), bytes: z.number(), madeAt: z.string() })
export type Backup = z.infer<typeof backup>
const keeping = z.object({
  backups: z.array(backup),
  /** Where they stand. */
  folder: z.string(),
  plan: backupPlan,
  nextAt: z.string().nullable(),
  retention,
  /** Bytes in the database, by kind, all sites together. */
  space: z.array(z.object({ kind: z.enum(spaceKinds), bytes: z.number() })),
  /** About how many bytes the results of kept days take: those up to the 10th, from there to the 30th, and beyond. */
  resultDepths: z.object({ within10: z.number(), within30: z.number(), beyond30: z.number() }),
  freeBytes: z.number().nullable(),
  /** Sites that were removed and can still be brought back. */
  removed: z.array(z.object({ siteId: z.number(), domain: z.string(), goesAt: z.string() })),
  /** Secrets sealed with the key of another installation: they must be typed again. */
  unreadableSecrets: z.number(),
})
export type Keeping = z.infer<typeof keeping>

export const readKeeping = endpoint({
  summary: 'Backups, space, and how long data is kept',
  role: 'administrator',
  errors: [],
  method: 'GET',
  path: '/api/keeping',
  input: z.object({}),
  output: keeping,
  oldBy: ['job', 'keeping', 'sites'],
})
/** Makes a backup now, in a job; while one is being made that is the one. */
export const startBackup = endpoint({
  summary: 'Make a backup',
  role: 'administrator',
  errors: [],
  method: 'POST',
  path: '/api/backups',
  input: z.object({}),
  output: job,
})
export const removeBackup = endpoint({
  summary: 'Remove a backup',
  role: 'administrator',
  errors: ['badInput', 'notFound'],
  method: 'DELETE',
  path: '/api/backups/:name',
  input: z.object({ name: z.string().max(200) }),
  output: z.object({}),
})
export const setBackupPlan = endpoint({
  summary: 'Set when backups are made',
  role: 'administrator',
  errors: ['badInput'],
  method: 'PUT',
  path: '/api/keeping/backups',
  input: backupPlan,
  output: z.object({ nextAt: z.string().nullable() }),
})
/** What is over is removed in the night after. */
export const setRetention = endpoint({
  summary: 'Set how long data is kept',
  role: 'administrator',
  errors: ['badInput'],
  method: 'PUT',
  path: '/api/keeping/retention',
  input: retention,
  output: z.object({}),
})
/** Brings a removed site back, with all its data, within a day. */
export const bringBackSite = endpoint({
  summary: 'Bring a removed site back',
  role: 'administrator',
  errors: ['badInput', 'notFound'],
  method: 'POST',
  path: '/api/removed-sites/:removedId',
  input: z.object({ removedId: id }),
  output: z.object({}),
})

import { z } from 'zod'
import { readRanges } from './outside/safe-address.ts'

const port = z.coerce.number().int().min(0).max(65_535)
const positive = z.coerce.number().positive()
/** Parts between commas. */
const list = z
  .string()
  .default('')
  .transform(text =>
    text
      .split(',')
      .map(part => part.trim())
      .filter(Boolean),
  )

const isRanges = (text: string): boolean => {
  try {
    readRanges(text)
    return true
  } catch {
    return false
  }
}

/** Everything that can be set from outside, checked once at the start. docs/configuration.md is the table of these. */
const schema = z.object({
  DATABASE_URL: z
    .string()
    .min(1, 'DATABASE_URL is missing; npm start sets it, or point it at a PostgreSQL 15 database'),
  DATABASE_READ_URLS: list,
  ROLE: z.enum(['all', 'web', 'work']).default('all'),
  HOST: z.string().default('127.0.0.1'),
  PORT: port.default(4600),
  PUBLIC_ORIGINS: list,
  SMTP_URL: z.union([z.literal(''), z.url({ protocol: /^smtps?$/ })]).default(''),
  MAIL_FROM: z.string().default('Dew Trail <dew-trail@localhost>'),
  SIGN_IN: z.enum(['when-open', 'always']).default('when-open'),
  START_KEY: z.string().default(''),
  DATA_DIR: z.string().default('.data'),
  WEB_DIR: z.string().default('web/dist'),
  LOG_LEVEL: z.enum(['trace', 'debug', 'info', 'warn', 'error', 'silent']).default('info'),
  SOURCE_URL: z.url().default('http://127.0.0.1:4610'),
  SOURCE_KEY: z.string().default('demo-key'),
  SOURCE_TIMEOUT_MS: positive.default(15_000),
  SOURCE_TRIES: z.coerce.number().int().min(1).max(10).default(4),
  RATE_ENGINES: positive.default(50),
  RATE_COMPLETIONS: positive.default(50),
  RATE_ADS: positive.default(15),
  RATE_FEEDS: positive.default(50),
  RATE_RANKINGS: positive.default(15),
  RATE_REGISTRY: positive.default(30),
  RATE_QUERYLOG: positive.default(8),
  RATE_MAPS: positive.default(10),
  RANK_MEMORY_LINKS: positive.default(150_000_000),
  STANDING_REFERENCE_SITES: positive.default(50_000),
  STANDING_REFERENCE_PAGE_RANK: positive.default(20_000),
  STANDING_REFERENCE_SITE_RANK: positive.default(20_000),
  BACKUP_DIR: z.string().default(''),
  LEARN_PAGES: z.coerce.number().int().min(100).max(2_000).default(1_000),
  RESULT_TEXT_DAYS: z.coerce.number().int().min(1).default(400),
  JOB_STALL_MINUTES: positive.default(60),
  DISK_LOW_MB: z.coerce.number().min(0).default(1_000),
  DISK_RESERVE_MB: z.coerce.number().min(0).default(100),
  EVENT_STREAMS: z.coerce.number().int().min(1).default(500),
  CHECK_DEPTH: z.coerce.number().int().min(10).max(100).default(100),
  CRAWL_CONTACT: z.string().default(''),
  CRAWL_PROXY: z.union([z.literal(''), z.url()]).default(''),
  CRAWL_PROXY_TUNNEL: z
    .enum(['yes', 'no'])
    .default('yes')
    .transform(text => text === 'yes'),
  CRAWL_ALLOW_PRIVATE: z
    .string()
    .default('')
    .refine(isRanges, 'must be ranges such as 10.0.0.0/8, with commas between them'),
  HOOKS_ALLOW_PRIVATE: z
    .string()
    .default('')
    .refine(isRanges, 'must be ranges such as 10.0.0.0/8, with commas between them'),
  CRAWL_DELAY_MS: z.coerce.number().min(0).default(500),
  CRAWL_PER_HOST: z.coerce.number().int().min(1).max(20).default(2),
  CRAWL_TIMEOUT_MS: positive.default(20_000),
  CRAWL_MAX_BYTES: positive.default(5_000_000),
  IMPORT_MAX_BYTES: positive.default(500_000_000),
  UPLOADS_MAX_BYTES: positive.default(4_000_000_000),
  FILE_MAX_LINE_BYTES: positive.default(1_000_000),
  FILE_MAX_CELL_CHARS: positive.default(50_000),
  FILE_MAX_COLUMNS: positive.default(2_000),
  FILE_MAX_RECORD_BYTES: positive.default(20_000_000),
  FILE_MAX_UNPACKED_BYTES: positive.default(5_000_000_000),
  FILE_MAX_RATIO: positive.default(250),
  FILE_MEMORY_MB: positive.default(192),
  FILE_SECONDS: positive.default(120),
  IMPORT_ANEW_FROM: positive.default(20_000),
})
export type Config = z.infer<typeof schema>

const loopback = /^(127(\.\d{1,3}){3}|::1|localhost)$/

/** Whether others than the users of this machine can reach the program, so that people have to sign in. */
export const isOpenToOthers = (config: Pick<Config, 'HOST' | 'PUBLIC_ORIGINS'>): boolean =>
  !loopback.test(config.HOST) || config.PUBLIC_ORIGINS.length > 0

/** Throws one Error that names every wrong setting. */
export function readConfig(env: Record<string, string | undefined>): Config {
  const parsed = schema.safeParse(env)
  if (parsed.success) return parsed.data
  throw new Error(
    `The configuration is not right:\n${parsed.error.issues.map(issue => `  ${issue.path.join('.')}: ${issue.message}`).join('\n')}`,
  )
}

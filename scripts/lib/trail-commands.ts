import { createWriteStream } from 'node:fs'
import { resolve } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { setTimeout as sleep } from 'node:timers/promises'
import { parseArgs } from 'node:util'
import { allEndpoints } from '@dew-trail/contract/all-endpoints'
import { type Endpoint, requestParts } from '@dew-trail/contract/endpoint'
import { keywordRowsPath, startGathering } from '@dew-trail/contract/gather'
import { createGrouping, readGrouping } from '@dew-trail/contract/group'
import { getJob, type Job } from '@dew-trail/contract/jobs'
import { issueReport, listReports, reportPath } from '@dew-trail/contract/reports'
import { listSites, type Market, type Site } from '@dew-trail/contract/sites'
import { checkNow } from '@dew-trail/contract/track'
import { tablePath } from '@dew-trail/contract/tables'
import { startWeighing } from '@dew-trail/contract/weigh'
import type { z } from 'zod'

const help = `npm run trail -- COMMAND [options]

  sites                                  what the key may see
  gather SEED …  [--ideas N]             gather keywords around seeds
  weigh                                  weigh all kept keywords that have no weighing yet
  group          [--name NAME]           group the kept keywords into themes
  check                                  check the positions of tracked keywords now
  export TABLE   --out FILE              keywords, plan or positions as CSV, JSONL or XLSX, by the file's ending
                 [--where CONDITION …]
  report NAME    [--out FILE]            issue a report; as PDF, XLSX or HTML, by the file's ending
  call ENDPOINT  ['{"siteId": 1, …}']    any call of the program's own API (/api/docs)

  --site DOMAIN      which site; not needed where there is one
  --market N         which market; the site's first without it
  --json             the result as JSON
  --url, --key       where the program is and with which access key; else DEW_TRAIL_URL (http://127.0.0.1:4600), DEW_TRAIL_KEY

Progress goes to standard error, the result to standard output.
Exit codes: 0 done, 1 it failed, 2 wrong use, 3 not reached or not let in.
`

class WrongUse extends Error {}
class NotLetIn extends Error {}

type Out = { write(text: string): unknown; isTTY?: boolean }
type Outside = { env: NodeJS.ProcessEnv; out: Out; log: Out; cwd: string }

/** Runs a command; gives its exit code. */
export async function runTrail(
  args: string[],
  outside: Outside = {
    env: process.env,
    out: process.stdout,
    log: process.stderr,
    cwd: process.env.INIT_CWD ?? process.cwd(),
  },
): Promise<number> {
  try {
    await run(args, outside)
    return 0
  } catch (error) {
    const { message, code } = error as Error & { code?: string }
    outside.log.write(`${message}\n`)
    if (error instanceof WrongUse || code?.startsWith('ERR_PARSE_ARGS')) return 2
    return error instanceof NotLetIn ? 3 : 1
  }
}

async function run(args: string[], { env, out, log, cwd }: Outside): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      site: { type: 'string' },
      market: { type: 'string' },
      json: { type: 'boolean', default: false },
      url: { type: 'string' },
      key: { type: 'string' },
      ideas: { type: 'string' },
      name: { type: 'string' },
      out: { type: 'string' },
      where: { type: 'string', multiple: true, default: [] },
      help: { type: 'boolean', short: 'h', default: false },
    },
  })
  const [command, ...rest] = positionals
  if (values.help || command === undefined) {
    if (command === undefined && !values.help) throw new WrongUse(help)
    out.write(help)
    return
  }
  const server = values.url ?? env.DEW_TRAIL_URL ?? 'http://127.0.0.1:4600'
  const key = values.key ?? env.DEW_TRAIL_KEY
  const headers: Record<string, string> = key ? { authorization: `Bearer ${key}` } : {}

  const send = async (url: string, init: RequestInit): Promise<Response> => {
    const response = await fetch(server + url, init).catch(() => {
      throw new NotLetIn(`Nothing answers at ${server}. Start Dew Trail, or name its address with --url.`)
    })
    if (response.ok) return response
    const { error } = (await response.json().catch(() => ({}))) as { error?: { message: string } }
    const words = error?.message ?? `It answered with status ${response.status}`
    throw response.status === 401 || response.status === 403 ? new NotLetIn(words) : new Error(words)
  }
  const call = async <I extends z.ZodType, O extends z.ZodType>(
    spec: Endpoint<I, O>,
    input: z.input<I>,
  ): Promise<z.output<O>> => {
    const { url, body } = requestParts(spec, input as Record<string, unknown>)
    const type: Record<string, string> = body === undefined ? {} : { 'content-type': 'application/json' }
    const response = await send(url, {
      method: spec.method,
      headers: { ...headers, ...type },
      ...(body === undefined ? {} : { body }),
    })
    return (await response.json()) as z.output<O>
  }
  const tell = (result: object, words: string): void => {
    out.write(values.json ? `${JSON.stringify(result)}\n` : `${words}\n`)
  }
  /** Waits for a job and shows how far it is: on a terminal in one line, else a line each tenth. */
  const finish = async (jobId: number): Promise<Job> => {
    let shown = -1
    for (;;) {
      const job = await call(getJob, { jobId })
      const tenth = job.total ? Math.floor((10 * job.done) / job.total) : 0
      const line = `${job.title}: ${job.total ? `${job.done} of ${job.total}` : job.state}`
      if (log.isTTY) log.write(`\r\u001b[K${line}`)
      else if (tenth > shown && !job.endedAt) log.write(`${line}\n`)
      shown = Math.max(shown, tenth)
      if (job.endedAt) {
        if (log.isTTY) log.write('\n')
        for (const { what, times } of job.warnings) log.write(`  ${what} (${times})\n`)
        if (job.state !== 'done') throw new Error(`${job.title}: ${job.error ?? job.state}`)
        return job
      }
      await sleep(300)
    }
  }
  const save = async (url: string, file: string | undefined): Promise<void> => {
    const response = await send(url, { headers })
    const body = Readable.fromWeb(response.body as never)
    if (file === undefined) for await (const chunk of body) out.write(String(chunk))
    else await pipeline(body, createWriteStream(resolve(cwd, file)))
  }
  const needSite = async (): Promise<Site> => {
    const sites = await call(listSites, {})
    const found = values.site
      ? sites.find(each => each.domain === values.site)
      : sites.length === 1
        ? sites[0]
        : undefined
    if (found) return found
    const names = sites.map(each => each.domain).join(', ') || 'none'
    throw new WrongUse(
      values.site ? `There is no site ${values.site}; there are ${names}` : `Which site? --site ${names}`,
    )
  }
  const needMarket = (site: Site): Market => {
    const found = values.market ? site.markets.find(each => each.id === Number(values.market)) : site.markets[0]
    if (!found)
      throw new WrongUse(
        `There is no market ${values.market}; there are ${site.markets.map(each => `${each.id} (${each.engine} ${each.place} ${each.language} ${each.device})`).join(', ')}`,
      )
    return found
  }
  const formatOf = <F extends string>(file: string | undefined, known: readonly F[], otherwise: F): F => {
    if (file === undefined) return otherwise
    const ending = file.split('.').at(-1)!.toLowerCase()
    const format = known.find(each => each === ending)
    if (!format) throw new WrongUse(`${file}: name a file that ends in ${known.join(', ')}`)
    return format
  }

  if (command === 'sites') {
    const sites = await call(listSites, {})
    tell(
      sites,
      sites
        .map(
          each =>
            `${each.domain}\t${each.markets.map(market => `${market.id}:${market.engine}/${market.device}`).join(' ')}`,
        )
        .join('\n'),
    )
  } else if (command === 'call') {
    const [name, json = '{}'] = rest
    const spec = allEndpoints.find(([each]) => each === name)?.[1]
    if (!spec) throw new WrongUse(`There is no call "${name ?? ''}"; ${server}/api/docs lists them`)
    let input: Record<string, unknown>
    try {
      input = JSON.parse(json) as Record<string, unknown>
    } catch {
      throw new WrongUse(`What is given to ${name} must be JSON`)
    }
    out.write(`${JSON.stringify(await call(spec, input))}\n`)
  } else if (command === 'gather') {
    if (!rest.length) throw new WrongUse('Gather around what? Name one seed or several.')
    const site = await needSite()
    const ideas = values.ideas === undefined ? {} : { mostIdeas: Number(values.ideas) }
    const { jobs } = await call(startGathering, {
      siteId: site.id,
      marketId: needMarket(site).id,
      seeds: rest,
      ...ideas,
    })
    const done: Job[] = []
    for (const { jobId } of jobs) done.push(await finish(jobId))
    const found = done.reduce((sum, job) => sum + Number(job.result?.found ?? 0), 0)
    tell({ jobs: done.map(job => ({ id: job.id, result: job.result })) }, `${found} keywords found`)
  } else if (command === 'weigh') {
    const site = await needSite()
    const market = needMarket(site)
    const response = await send(keywordRowsPath(site.id, market.id, 0), { headers })
    const keywordIds = keptWithoutWeighing(await response.text())
    if (!keywordIds.length) return tell({ weighed: 0 }, 'Every kept keyword is weighed')
    const { jobId } = await call(startWeighing, { siteId: site.id, marketId: market.id, keywordIds })
    if (jobId !== null) await finish(jobId)
    tell({ weighed: keywordIds.length }, `${keywordIds.length} keywords weighed`)
  } else if (command === 'group') {
    const site = await needSite()
    const made = await call(createGrouping, {
      siteId: site.id,
      marketId: needMarket(site).id,
      from: { kind: 'kept' },
      ...(values.name ? { name: values.name } : {}),
    })
    await finish(made.jobId)
    const { grouping } = await call(readGrouping, { siteId: site.id, groupingId: made.groupingId })
    tell(
      grouping,
      `"${grouping.name}": ${grouping.grouped} of ${grouping.keywords} keywords in ${grouping.themes} themes`,
    )
  } else if (command === 'check') {
    const site = await needSite()
    const job = await finish((await call(checkNow, { siteId: site.id })).jobId)
    tell(job, `${job.done} positions checked`)
  } else if (command === 'export') {
    const [table] = rest
    if (!table) throw new WrongUse('Export which table? keywords, plan or positions')
    const site = await needSite()
    const shown = {
      format: formatOf(values.out, ['csv', 'jsonl', 'xlsx'], 'csv'),
      columns: [],
      where: values.where,
      sort: '',
    }
    await save(tablePath(site.id, needMarket(site).id, table, shown), values.out)
    if (values.out) tell({ file: values.out }, values.out)
  } else if (command === 'report') {
    const [name] = rest
    const site = await needSite()
    const { reports } = await call(listReports, { siteId: site.id })
    const report = reports.find(each => each.name === name)
    if (!report)
      throw new WrongUse(
        `There is no report "${name ?? ''}"; there are ${reports.map(each => `"${each.name}"`).join(', ') || 'none'}`,
      )
    const format = formatOf(values.out, ['pdf', 'xlsx', 'html'], 'pdf')
    const issue = await call(issueReport, { siteId: site.id, reportId: report.id })
    if (values.out) await save(reportPath(site.id, report.id, issue.id, format), values.out)
    tell({ reportId: report.id, issueId: issue.id, file: values.out ?? null }, values.out ?? `"${name}" is issued`)
  } else throw new WrongUse(`There is no command "${command}".\n\n${help}`)
}

/** Ids of kept keywords without a weighing, out of the lines of the keyword stream. */
function keptWithoutWeighing(lines: string): number[] {
  const wanted = new Map<number, boolean>()
  for (const line of lines.trim().split('\n')) {
    const { ids, columns, same } = JSON.parse(line) as {
      ids?: number[]
      columns?: Record<string, unknown[]>
      same?: Record<string, unknown>
    }
    for (const [i, id] of (ids ?? []).entries()) {
      const of = (name: string): unknown => columns?.[name]?.[i] ?? same?.[name] ?? null
      wanted.set(id, of('kept') === true && of('difficulty') === null && of('weighed') === null)
    }
  }
  return [...wanted].filter(([, is]) => is).map(([id]) => id)
}

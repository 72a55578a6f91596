import { existsSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { AppError } from '@dew-trail/contract/errors'
import { type Health, readHealth } from '@dew-trail/contract/health'
import express, { type Express } from 'express'
import helmet from 'helmet'
import type { Context } from './context.ts'
import { mountActs } from './features/acts/routes.ts'
import { mountSiteArchive } from './features/keeping/site-archive.ts'
import { mountTables } from './platform/tables/routes.ts'
import { features, tables, undoWorks } from './features.ts'
import { compress } from './platform/http/compress.ts'
import { cookieOf } from './platform/http/cookie.ts'
import type { AfterWrite } from './platform/http/mount.ts'
import type { ReadPools } from './platform/db/read-pools.ts'
import { errorHandler } from './platform/http/errors.ts'
import { guard } from './platform/http/guard.ts'
import { asWho, needRole } from './platform/http/who.ts'

/** The HTTP side: guards first, then the features, then the built web pages, errors last. */
export function makeApp(context: Context, port: () => number): Express {
  const { config, log } = context
  const app = express()
  app.disable('x-powered-by')
  // A reverse proxy on this machine says whom it asks for.
  app.set('trust proxy', 'loopback')
  app.locals.pool = context.pool
  app.use((request, response, next) => {
    const startedMs = performance.now()
    response.on('finish', () =>
      log.debug(
        {
          method: request.method,
          path: request.path,
          status: response.statusCode,
          ms: Math.round(performance.now() - startedMs),
        },
        'request',
      ),
    )
    next()
  })
  // MUI writes its styles into style elements while running, so styles may be inline; scripts never.
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          scriptSrc: ["'self'"],
          workerSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          frameSrc: ["'self'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: false,
      originAgentCluster: false,
    }),
  )
  app.use((_request, response, next) => {
    response.setHeader('permissions-policy', 'camera=(), microphone=(), geolocation=(), payment=(), usb=()')
    next()
  })
  app.use(compress())
  app.use('/api', (_request, response, next) => {
    response.setHeader('cache-control', 'no-store')
    next()
  })
  app.use(guard(config, port))
  app.get(readHealth.path, async (_request, response) => {
    // Whether the database answers is known from every question it is asked; one a request would wait for a free connection.
    const { awaySince } = context.database
    const { freeBytes, isLow } = context.disk
    const answer: Health = {
      ready: awaySince === null,
      databaseAwaySince: awaySince?.toISOString() ?? null,
      disk: { freeMb: freeBytes === null ? null : Math.floor(freeBytes / 1e6), low: isLow },
    }
    response.status(answer.ready ? 200 : 503).json(answer)
  })
  app.use(async (request, _response, next) => {
    const who = request.path.startsWith('/api/') ? await context.people.find(request) : null
    asWho(who, next)
  })
  // What is mounted without an endpoint still shows nothing of a site to those who do not belong to it.
  app.use('/api/sites/:siteId', (request, _response, next) => {
    const siteId = Number(request.params.siteId)
    needRole('reader', Number.isInteger(siteId) ? siteId : 0)
    next()
  })
  if (context.reads) readFromReplicas(app, context, context.reads)
  // Uploads come as CSV and pass this by: they are streamed, never held.
  app.use(express.json({ limit: '20mb' }))
  for (const { mount } of features) mount?.(app, context)
  mountTables(app, context, tables())
  mountActs(app, context, undoWorks())
  mountSiteArchive(app, context, tables())
  app.use('/api', request => {
    throw new AppError('notFound', `There is nothing at ${request.method} ${request.originalUrl}`)
  })
  const web = resolve(config.WEB_DIR)
  if (existsSync(join(web, 'index.html'))) {
    app.use('/assets', express.static(join(web, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }))
    app.use(express.static(web, { maxAge: 0 }))
    app.get('/*splat', (_request, response) => {
      response.sendFile(join(web, 'index.html'))
    })
  }
  app.use(errorHandler(log, context.database))
  return app
}

/** Cookie with the place in the database's log up to which a browser has seen. */
const seenCookie = 'dew-trail-seen'

/** Requests that read are answered from a replica that has all that the reader has seen; after a write the reader is given how far that is. */
function readFromReplicas(app: Express, { bus, log }: Context, reads: ReadPools): void {
  const afterWrite: AfterWrite = async response => {
    const position = await reads.noteWritten()
    void bus
      .tell([{ kind: 'wrote', position }])
      .catch(error => log.warn({ err: error }, 'other processes were not told'))
    if (!response.headersSent)
      response.cookie(seenCookie, position, { httpOnly: true, sameSite: 'strict', path: '/api' })
  }
  app.locals.afterWrite = afterWrite
  bus.onMessage(message => {
    if (message.kind === 'wrote') reads.see(message.position)
  })
  app.use('/api', async (request, response, next) => {
    if (request.method === 'GET') {
      await reads.read(cookieOf(request, seenCookie), next)
      return
    }
    // What is mounted without an endpoint, such as uploads, is noted when it is answered.
    response.on('finish', () => void reads.noteWritten().catch(() => undefined))
    next()
  })
}

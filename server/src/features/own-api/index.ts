import { createRequire } from 'node:module'
import { dirname } from 'node:path'
import express from 'express'
import type { Feature } from '../../feature.ts'
import { needRole } from '../../platform/http/who.ts'
import { publicAddress } from '../../platform/http/public-address.ts'
import { ownApi } from './openapi.ts'
import { swaggerPage, swaggerStart } from './swagger-page.ts'

const shipped = dirname(createRequire(import.meta.url).resolve('swagger-ui-dist/package.json'))

/** The description of the program's own API, and pages to browse it, both for whoever may come in. */
export const ownApiFeature: Feature = {
  mount(app, { config }) {
    app.use(['/api/openapi.json', '/api/docs'], (_request, _response, next) => {
      needRole('reader')
      next()
    })
    let document: object | undefined
    app.get('/api/openapi.json', (_request, response) => {
      document ??= ownApi(publicAddress(config, '/'))
      response.json(document)
    })
    // Its files are named from below the folder, so the address must end in one.
    app.get('/api/docs', (request, response) => {
      if (request.path.endsWith('/')) response.type('html').send(swaggerPage)
      else response.redirect('/api/docs/')
    })
    app.get('/api/docs/start.js', (_request, response) => response.type('js').send(swaggerStart))
    app.use('/api/docs', express.static(shipped, { index: false }))
  },
}

import { Feed } from 'feed'
import { needSite } from '../../../domain/sites/need-market.ts'
import type { Config } from '../../../platform/config.ts'
import type { Db } from '../../../platform/db/pool.ts'
import { publicAddress } from '../../../platform/http/public-address.ts'
import { manyAlerts } from './queries.ts'

const mostInFeed = 100

/** The latest alerts of a site as an Atom feed (RFC 4287). `self`: the path under which it is read. */
export async function alertFeed(db: Db, config: Config, siteId: number, self: string): Promise<string> {
  const site = await needSite(db, siteId)
  const alerts = await manyAlerts(db, siteId, mostInFeed)
  const feed = new Feed({
    title: `Alerts of ${site.domain}`,
    id: `tag:${site.domain},2026:alerts`,
    link: publicAddress(config, `/${siteId}/track?see=alerts`),
    feedLinks: { atom: publicAddress(config, self) },
    generator: 'Dew Trail',
    copyright: '',
    updated: alerts.reduce((newest, each) => (each.madeAt > newest ? each.madeAt : newest), new Date(0)),
  })
  for (const alert of alerts)
    feed.addItem({
      title: alert.title,
      id: `tag:${site.domain},2026:alert-${alert.id}`,
      link: publicAddress(config, `/${siteId}/track?market=${alert.marketId}&see=alerts`),
      date: alert.madeAt,
      description: [alert.body, ...alert.keywords.map(({ phrase, words }) => `${phrase}: ${words}`)]
        .filter(Boolean)
        .join('\n'),
    })
  return feed.atom1()
}

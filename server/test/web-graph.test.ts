import { gzipSync } from 'node:zlib'
import { edgesPath, verticesPath } from '@dew-trail/contract/imports'
import { listImports } from '@dew-trail/contract/sources'
import type { Site } from '@dew-trail/contract/sites'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let db: pg.Client
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  db = new pg.Client({ connectionString: server.databaseUrl })
  await db.connect()
})
afterAll(async () => {
  await db.end()
  await server.close()
})

const post = (path: string, body: string | Buffer) => server.raw(path, { method: 'POST', body: body as BodyInit })
async function importGraph(vertices: string | Buffer, edges: string | Buffer) {
  const sent = await post(verticesPath(site.id, 'vertices.txt'), vertices)
  expect(sent.status).toBe(200)
  const { importId } = sent.body as { importId: number }
  const begun = await post(edgesPath(site.id, importId, 'edges.txt'), edges)
  expect(begun.status).toBe(200)
  return { importId, job: await server.finish((begun.body as { jobId: number }).jobId) }
}
const linksFrom = async (domain: string): Promise<string[]> =>
  (
    await db.query<{ url: string }>(
      `select t.url from link l join linked_page t on t.graph_id = 1 and t.id = l.target_page_id
        join linked_site s on s.graph_id = 1 and s.id = l.source_site_id
       where l.graph_id = 1 and s.domain = $1 order by 1`,
      [domain],
    )
  ).rows.map(row => row.url)

describe('a web graph from two files', () => {
  test('host names from the top-level domain on become links between home pages, and sums follow', async () => {
    const { job } = await importGraph(
      gzipSync('0\texample.graphone\t3\n1\texample.graphtwo.www\t1\n2\texample.graphthree\t1\n'),
      gzipSync('0\t1\n0\t2\n2\t1\n1\t1\n'),
    )
    expect(job).toMatchObject({ state: 'done', result: { vertices: 3, lines: 4, wrong: 0, saved: 3 } })
    expect(await linksFrom('graphone.example')).toEqual(['http://graphthree.example/', 'http://www.graphtwo.example/'])
    const { rows } = await db.query(
      `select t.linking_sites from link_total t join linked_site s on s.graph_id = 1 and s.id = t.target_site_id
        where s.domain = 'graphtwo.example'`,
    )
    expect(rows).toEqual([{ linking_sites: 2 }])
  })
  test('addresses stay addresses; wrong lines of both files are listed, the rest is taken', async () => {
    const { importId, job } = await importGraph(
      '# made by hand\n7\thttps://pageone.example/a\n8\thttps://pagetwo.example/b\nnine\thttps://c.example/\n10\tno host\n7\thttps://other.example/\n',
      '7\t8\n7\t11\nx\ty\n\n8 7\n',
    )
    expect(job.result).toMatchObject({ vertices: 2, wrong: 5, saved: 2 })
    expect(await linksFrom('pageone.example')).toEqual(['https://pagetwo.example/b'])
    const errors = (await server.raw(`/api/sites/${site.id}/imports/${importId}/errors.csv`)).body as string
    expect(errors).toContain('4,"Vertices: this is not a number, a tab and a name"')
    expect(errors).toContain('6,Vertices: number 7 already stands for https://pageone.example/a')
    expect(errors).toContain('2,Edges: there is no vertex 11 with an address')
    expect(errors).toContain('3,Edges: this is not two numbers')
    expect((await server.call(listImports, { siteId: site.id }))[0]).toMatchObject({
      kind: 'graph',
      fileName: 'vertices.txt and edges.txt',
      ran: true,
      errors: 5,
    })
  })
  test('a gzip file that breaks off fails with the reason, and can be tried again', async () => {
    const whole = gzipSync(
      Array.from({ length: 5_000 }, (_, i) => `${i}\thost${(i * 7919) % 5_000}.example`).join('\n'),
    )
    const { job } = await importGraph(whole.subarray(0, whole.length / 2), '0\t1\n')
    expect(job.state).toBe('failed')
    expect(job.error).toMatch(/cut or spoilt/)
  })
  test('edges without vertices, and empty files, are refused', async () => {
    expect((await post(verticesPath(site.id, 'v.txt'), '')).status).toBe(400)
    const refused = await post(edgesPath(site.id, 999_999, 'e.txt'), '0\t1\n')
    expect(refused.status).toBe(404)
    expect(JSON.stringify(refused.body)).toContain('upload both files again')
  })
})

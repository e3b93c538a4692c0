import { readdirSync, readFileSync } from 'node:fs'
import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { fileURLToPath } from 'node:url'
import { addressOf, type Endpoint, endpoints } from '@culvert/contract'
import { Validator } from '@seriousme/openapi-schema-validator'
import { pino } from 'pino'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { createApp } from '../app.ts'
import { startJobs } from '../jobs/boss.ts'
import { makeClient, testDatabase, testUrl } from '../testing/madeClient.ts'

const database = testDatabase(8)
let server: Server
let base = ''
let client = 0
let jobs: Awaited<ReturnType<typeof startJobs>>

beforeAll(async () => {
  const actor = await makeClient(database, 'Every endpoint')
  client = actor.clientId
  jobs = await startJobs(testUrl(), database, () => undefined)
  const app = createApp({ database, jobs, person: { userId: actor.userId }, log: pino({ level: 'silent' }) })
  server = app.listen(0, '127.0.0.1')
  await new Promise(resolve => server.once('listening', resolve))
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}/api`
})
afterAll(async () => {
  await new Promise(resolve => server.close(resolve))
  await jobs.stop()
  await database.$client.end()
})

const ask = async (endpoint: Endpoint) => {
  const names = [...endpoint.path.matchAll(/:(\w+)/g)].map(match => [match[1] as string, 'nowhere'])
  const address = addressOf(endpoint, { client, params: Object.fromEntries(names) })
  const { method } = endpoint
  const response = await fetch(base + address, {
    method,
    headers: { 'content-type': endpoint.body === 'file' ? 'text/csv' : 'application/json', 'x-culvert': 'test' },
    ...(method === 'GET' ? {} : { body: endpoint.body === 'file' ? 'a' : '{}' }),
  })
  return { status: response.status, text: await response.text() }
}

describe('every endpoint', () => {
  it.each(Object.entries(endpoints) as [string, Endpoint][])(
    '%s is mounted where it is declared',
    async (_, endpoint) => {
      const { status, text } = await ask(endpoint)
      expect(text).not.toContain('no such address')
      expect(status, text).toBeLessThan(500)
    },
  )

  it('is described, in a document that is OpenAPI 3.1', async () => {
    const response = await fetch(`${base}/openapi.json`)
    const described = (await response.json()) as {
      openapi: string
      paths: Record<string, Record<string, { operationId: string; 'x-right': string }>>
    }
    const judged = await new Validator().validate(described)
    expect(judged.errors).toBeUndefined()
    expect(judged.valid).toBe(true)
    expect(described.openapi).toBe('3.1.0')
    const operations = Object.values(described.paths).flatMap(Object.values)
    expect(operations.map(one => one.operationId).sort()).toEqual(Object.keys(endpoints).sort())
    for (const { operationId, 'x-right': right } of operations)
      expect(right).toBe(endpoints[operationId as keyof typeof endpoints].right)
    // And the validator sees a fault where there is one.
    expect((await new Validator().validate({ ...described, paths: { nowhere: {} } })).valid).toBe(false)
  })

  it('is mounted and called by its declaration alone', () => {
    const root = fileURLToPath(new URL('../../..', import.meta.url))
    const typed = readdirSync(root, { recursive: true, encoding: 'utf8' })
      .filter(path => /^(server|web|demo)\/src\/.*\.tsx?$/.test(path) && !/\.test\.|testing|bench/.test(path))
      .filter(path =>
        /\b(router|ofClient)\.(get|post|put|patch|delete)\(|['"`]\/clients\/|`\/api\/(?!openapi)/.test(
          readFileSync(root + path, 'utf8'),
        ),
      )
    expect(typed).toEqual([])
  })
})

import { readdirSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { addressOf, type Endpoint, endpoints } from '@culvert/contract'
import { Validator } from '@seriousme/openapi-schema-validator'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { type SignInServer, signInServer } from '../testing/signedIn.ts'
import { always } from './who.ts'

const database = testDatabase(8)
let server: SignInServer
let base = ''
let client = 0

beforeAll(async () => {
  const actor = await makeClient(database, 'Every endpoint')
  client = actor.clientId
  server = await signInServer(database, always(actor.userId))
  base = server.base
})
afterAll(async () => {
  await server.stop()
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

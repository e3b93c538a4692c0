import { once } from 'node:events'
import { request as ask, createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { text } from 'node:stream/consumers'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { inTurn, receiveFile, receiveLimits } from './receiveFile.ts'
import { Refused } from './refused.ts'

const limits = { ...receiveLimits, mostBytes: 1000, mostSeconds: 3, leastBytesASecond: 100, graceSeconds: 1 }
const server = createServer((request, response) => {
  receiveFile(request as never, limits).then(
    async file => {
      const body = await text(file.open())
      await file.dispose()
      response.end(body)
    },
    (error: unknown) => response.writeHead(error instanceof Refused ? error.status : 500).end(String(error)),
  )
})
let port = 0
beforeAll(async () => {
  server.listen(0, '127.0.0.1')
  await once(server, 'listening')
  port = (server.address() as AddressInfo).port
})
afterAll(() => server.close())

const sent = (body: string | null) =>
  new Promise<{ status: number; said: string }>((resolve, reject) => {
    const sending = ask({ port, host: '127.0.0.1', method: 'POST' }, async response =>
      resolve({ status: response.statusCode ?? 0, said: await text(response) }),
    )
    sending.on('error', reject)
    if (body !== null) sending.end(body)
    else sending.write('a')
  })

describe('a file that is received', () => {
  it('is there whole', async () => {
    expect(await sent('line_id\n1\n')).toEqual({ status: 200, said: 'line_id\n1\n' })
  })
  it('may be so large and no larger', async () => {
    expect((await sent('x'.repeat(1000))).status).toBe(200)
    expect((await sent('x'.repeat(1001))).status).toBe(413)
  })
  it('is given up when it comes too slowly', async () => {
    expect((await sent(null)).status).toBe(408)
  }, 10_000)
})

it('at most three files are read in at a time, and a place given up is taken once', async () => {
  let [running, most] = [0, 0]
  const one = (fails: boolean) =>
    inTurn(async () => {
      most = Math.max(most, ++running)
      await new Promise(resolve => setTimeout(resolve, 10))
      running--
      if (fails) throw new Error('broken')
    })
  const outcomes = await Promise.allSettled(Array.from({ length: 20 }, (_, index) => one(index % 3 === 0)))
  expect([most, running, outcomes.filter(outcome => outcome.status === 'rejected').length]).toEqual([3, 0, 7])
})

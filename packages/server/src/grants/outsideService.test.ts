import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterEach, describe, expect, it } from 'vitest'
import { outsideService } from './outsideService.ts'

let server: Server | null = null
afterEach(async () => {
  server?.closeAllConnections()
  await new Promise(resolve => (server ? server.close(resolve) : resolve(null)))
  server = null
})

type Answer = (request: IncomingMessage, response: ServerResponse) => void

/** A service that grants a token and answers everything else by `answer`. */
const asking = async (answer: Answer, signal = new AbortController().signal) => {
  const asked: string[] = []
  server = createServer((request, response) => {
    asked.push(request.url ?? '')
    if (request.url === '/token') response.end(JSON.stringify({ token: 't', expires_in: 60 }))
    else answer(request, response)
  }).listen(0, '127.0.0.1')
  await new Promise(resolve => server?.once('listening', resolve))
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  const service = outsideService({ name: 'Openhall', address, access: { key: 'k', secret: 's' }, signal })
  return { ...service, address, asked }
}

describe('a hostile service', () => {
  it('is followed nowhere', async () => {
    const { get, asked } = await asking((_, response) => {
      response.writeHead(302, { location: '/inner' }).end()
    })
    await expect(get('/lines')).rejects.toThrow('a redirect, which is not followed')
    expect(asked).toEqual(['/token', '/lines'])
  })
  it('cannot fill the memory with an answer that never ends', async () => {
    const chunk = Buffer.alloc(1_000_000, 0x20)
    let sent = 0
    const { get } = await asking((_, response) => {
      const more = (): void => {
        if (response.writable) response.write(chunk, error => (error ? undefined : setImmediate(more)))
        sent++
      }
      more()
    })
    await expect(get('/lines')).rejects.toThrow('more than 32 MB')
    // Asked five times, and each time no more was taken than that and what the sockets hold.
    expect(sent).toBeLessThan(5 * 64)
  }, 60_000)
  it('cannot hold a wait that somebody ends', async () => {
    const cancelled = new AbortController()
    const { get } = await asking(
      (_, response) => response.writeHead(429, { 'retry-after': '86400' }).end(),
      cancelled.signal,
    )
    // A day's wait, were it not ended.
    setTimeout(() => cancelled.abort(new Error('cancelled')), 200)
    await expect(get('/lines')).rejects.toThrow()
  }, 60_000)
  it('is tried again after faults, and given up with what it said', async () => {
    let faults = 2
    const { get } = await asking((_, response) => {
      if (faults-- > 0) response.writeHead(503).end()
      else response.end('{"lines":[]}')
    })
    expect(await get('/lines')).toEqual({ lines: [] })
    faults = 99
    await expect(get('/lines?cursor=secret')).rejects.toThrow('Openhall did not answer /lines: 503, 5 times')
  }, 30_000)
})

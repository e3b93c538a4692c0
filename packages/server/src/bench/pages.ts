import type { AddressInfo } from 'node:net'
import { performance } from 'node:perf_hooks'
import { pino } from 'pino'
import { always } from '../access/who.ts'
import { createApp } from '../app.ts'
import type { Actor, Database } from '../database/connect.ts'
import { startJobs } from '../jobs/boss.ts'
import { marketplacePages } from './asked.ts'

export interface PageFigures {
  readonly name: string
  readonly p50: number
  readonly p95: number
  readonly failed: number
}

const perSecond = 20
const seconds = 4

const percentile = (sorted: readonly number[], share: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0

/** Times the data of each page at a steady rate, whether or not the one before has answered. */
export const measurePages = async (database: Database, actor: Actor): Promise<PageFigures[]> => {
  const jobs = await startJobs(process.env.APP_DATABASE_URL as string, database, () => undefined)
  const app = createApp({ database, jobs, who: always(actor.userId), log: pino({ level: 'silent' }) })
  const server = app.listen(0, '127.0.0.1')
  await new Promise(resolve => server.once('listening', resolve))
  const base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  const figures: PageFigures[] = []
  for (const [name, address] of marketplacePages) {
    await fetch(base + address(actor.clientId))
    const times: number[] = []
    let failed = 0
    const running: Promise<void>[] = []
    for (let count = 0; count < perSecond * seconds; count++) {
      running.push(
        (async () => {
          const start = performance.now()
          const response = await fetch(base + address(actor.clientId))
          await response.arrayBuffer()
          if (!response.ok) failed++
          times.push(performance.now() - start)
        })(),
      )
      await new Promise(resolve => setTimeout(resolve, 1000 / perSecond))
    }
    await Promise.all(running)
    times.sort((left, right) => left - right)
    figures.push({ name, p50: percentile(times, 0.5), p95: percentile(times, 0.95), failed })
  }
  server.close()
  server.closeAllConnections()
  await jobs.stop()
  return figures
}

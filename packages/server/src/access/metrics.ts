import type { NextFunction, Request, Response } from 'express'
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client'
import type { Database } from '../database/connect.ts'

/** What is measured of a process, and how it is told (Prometheus text format). */
export interface Metrics {
  /** Times every request that passes, by the endpoint that answered it. */
  readonly time: (request: Request, response: Response, next: NextFunction) => void
  readonly tell: (request: Request, response: Response) => Promise<void>
}

interface Queue {
  readonly name: string
  readonly active: number
  readonly waiting: number
  /** Seconds since the longest waiting was put there. */
  readonly oldest: number
}

const loadQueues = async (database: Database): Promise<Queue[]> => {
  const { rows } = await database.$client.query<Queue>(
    `SELECT name, count(*) FILTER (WHERE state = 'active')::int AS active, count(*) FILTER (WHERE state IN ('created', 'retry'))::int AS waiting,
      coalesce(extract(epoch FROM now() - min(created_on) FILTER (WHERE state IN ('created', 'retry'))), 0)::float8 AS oldest
    FROM pgboss.job WHERE state IN ('created', 'retry', 'active') GROUP BY name`,
  )
  return rows
}

/** Requests, connections, queues and the process itself. */
export const startMetrics = (database: Database): Metrics => {
  const registry = new Registry()
  const registers = [registry]
  collectDefaultMetrics({ register: registry })
  const requests = new Histogram({
    name: 'culvert_request_seconds',
    help: 'Time to answer, by method, address and status',
    labelNames: ['method', 'path', 'status'],
    buckets: [0.01, 0.03, 0.1, 0.3, 1, 3, 10, 30, 100],
    registers,
  })
  new Gauge({
    name: 'culvert_connections',
    help: 'Connections to the database, and who waits for one',
    labelNames: ['state'],
    registers,
    collect() {
      const { totalCount, idleCount, waitingCount } = database.$client
      this.set({ state: 'busy' }, totalCount - idleCount)
      this.set({ state: 'idle' }, idleCount)
      this.set({ state: 'waited_for' }, waitingCount)
    },
  })
  const jobs = new Gauge({
    name: 'culvert_jobs',
    help: 'Jobs that run or wait, by queue',
    labelNames: ['queue', 'state'],
    registers,
  })
  const oldest = new Gauge({
    name: 'culvert_oldest_job_seconds',
    help: 'How long the longest waiting job has waited, by queue',
    labelNames: ['queue'],
    registers,
  })
  return {
    time: (request, response, next) => {
      const end = requests.startTimer()
      response.on('finish', () => {
        // The address as it was declared: as it was asked there would be as many as there are settlements.
        const path = request.route
          ? `${request.baseUrl.replace(/\d+/, ':client')}${String(request.route.path)}`
          : 'other'
        end({ method: request.method, path, status: String(response.statusCode) })
      })
      next()
    },
    tell: async (_request, response) => {
      // A database that is away is told by health; what the process knows of itself is told all the same.
      const queues = await loadQueues(database).catch(() => [])
      jobs.reset()
      oldest.reset()
      for (const { name, active, waiting, oldest: seconds } of queues) {
        jobs.set({ queue: name, state: 'active' }, active)
        jobs.set({ queue: name, state: 'waiting' }, waiting)
        oldest.set({ queue: name }, seconds)
      }
      response.set('content-type', registry.contentType).send(await registry.metrics())
    },
  }
}

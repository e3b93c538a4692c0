import express, { type Express, type Router } from 'express'
import { z } from 'zod'
import { bankRoutes } from './bank.ts'
import { faultSwitches, noFaults } from './faults.ts'
import { marketplaceRoutes } from './marketplace.ts'
import { bank, marketplace, openStore } from './store.ts'

const allowedHosts = new Set(['127.0.0.1', 'localhost', '[::1]'])

/** All stand-ins in one service, with a control side for the demo and the tests. */
export const createStandIns = (folder: string, mail?: Router): Express => {
  const store = openStore(folder)
  let faults = noFaults
  const app = express()
  // Another site's page can reach a loopback address, but not name it as its own host.
  app.use((request, response, next) => {
    if (allowedHosts.has((request.headers.host ?? '').replace(/:\d+$/, ''))) next()
    else response.status(403).json({ error: 'this address is not served here' })
  })
  app.use(express.json({ limit: '200mb' }))
  app.get('/health', (_request, response) => {
    response.json({ ok: true })
  })
  app.put('/control/marketplaces/:name', (request, response) => {
    store.keep('marketplace', request.params.name, marketplace.parse(request.body))
    response.json({})
  })
  app.post('/control/marketplaces/:name/lines', (request, response) => {
    const known = store.marketplace(request.params.name)
    const { lines } = z.object({ lines: marketplace.shape.lines }).parse(request.body)
    if (known) store.keep('marketplace', request.params.name, { ...known, lines: [...known.lines, ...lines] })
    response.status(known ? 200 : 404).json({})
  })
  app.put('/control/banks/:name', (request, response) => {
    store.keep('bank', request.params.name, bank.parse(request.body))
    response.json({})
  })
  app.put('/control/faults', (request, response) => {
    faults = faultSwitches.parse(request.body)
    response.json(faults)
  })
  app.use(
    '/marketplaces',
    marketplaceRoutes(store, () => faults),
  )
  app.use('/banks', bankRoutes(store))
  if (mail) app.use('/mail', mail)
  return app
}

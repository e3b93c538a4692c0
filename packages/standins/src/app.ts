import express, { type Express, type Router } from 'express'
import { z } from 'zod'
import { bankRoutes } from './bank.ts'
import { consentRoutes, metadataRoutes } from './consent.ts'
import { faultSwitches, misbehave, noFaults } from './faults.ts'
import { Grants, program } from './grants.ts'
import { serviceRoutes } from './services.ts'
import { bank, openStore, type Row, service } from './store.ts'
import { switchboardRoutes } from './switchboard.ts'

const allowedHosts = new Set(['127.0.0.1', 'localhost', '[::1]'])

/** All stand-ins in one service, with a control side for the demo and the tests, and a switchboard for people. */
export const createStandIns = (folder: string, mail?: Router): Express => {
  const store = openStore(folder)
  const grants = new Grants(store)
  let faults = noFaults
  const app = express()
  // Another site's page can reach a loopback address, but not name it as its own host.
  app.use((request, response, next) => {
    if (allowedHosts.has((request.headers.host ?? '').replace(/:\d+$/, ''))) next()
    else response.status(403).json({ error: 'this address is not served here' })
  })
  // A form of another site's page would change things here too.
  app.use((request, response, next) => {
    const { origin, host } = request.headers
    if (request.method === 'GET' || origin === undefined || origin === `http://${host}`) next()
    else response.status(403).json({ error: 'changes are made from these pages' })
  })
  app.use(express.json({ limit: '200mb' }))
  app.get('/health', (_request, response) => {
    response.json({ ok: true })
  })
  app.put('/control/services/:name', (request, response) => {
    store.keepService(request.params.name, service.parse(request.body))
    response.json({})
  })
  app.post('/control/services/:name/shops/:shop/lines', (request, response) => {
    const { name, shop } = request.params
    const known = store.service(name)
    const of = known?.shops[shop]
    const { lines } = z.object({ lines: z.array(z.custom<Row>()) }).parse(request.body)
    if (known && of)
      store.keepService(
        name,
        service.parse({ ...known, shops: { ...known.shops, [shop]: { ...of, lines: [...of.lines, ...lines] } } }),
      )
    response.status(of ? 200 : 404).json({})
  })
  app.put('/control/banks/:name', (request, response) => {
    store.keepBank(request.params.name, bank.parse(request.body))
    response.json({})
  })
  app.put('/control/faults', (request, response) => {
    faults = faultSwitches.parse(request.body)
    response.json(faults)
  })
  // What a program that is let in here has to know: where the services are, and by which name and secret it is known to them.
  app.get('/services.json', (request, response) => {
    response.json(
      store.services().map(name => {
        const { name: called, sort, reports } = service.parse(store.service(name))
        const address = `http://${request.headers.host}/services/${name}`
        return { key: name, name: called, sort, reports, address, program }
      }),
    )
  })
  app.use(metadataRoutes(store))
  const trouble = misbehave(() => faults)
  app.use('/services/:service/token', trouble)
  app.use('/services', consentRoutes(store, grants))
  app.use('/services/:service', trouble)
  app.use(
    '/services',
    serviceRoutes(store, grants, () => faults),
  )
  app.use('/banks', bankRoutes(store))
  if (mail) app.use('/mail', mail)
  app.use(
    switchboardRoutes(store, grants, {
      get: () => faults,
      set: to => {
        faults = to
      },
    }),
  )
  return app
}

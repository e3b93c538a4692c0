import { endpoints } from '@culvert/contract'
import { type Request, Router } from 'express'
import type { Letters } from '../access/letters.ts'
import { serve } from '../access/serve.ts'
import { asClient, type Database } from '../database/connect.ts'
import { askGrant, askOwner } from './askGrant.ts'
import { completeOwn } from './completeGrant.ts'
import { endGrant } from './endGrant.ts'
import { beginByLink, completeByLink, lookAtGrant } from './grantLinks.ts'
import { loadGrants } from './grantRows.ts'
import { services } from './services.ts'
import { loadShops } from './shops.ts'

// Back to the name under which it was reached: a browser that signed in at localhost is not signed in at 127.0.0.1. Which names there are was checked before.
const redirectOf = (request: Request, origin: string): string => {
  const { protocol, hostname } = new URL(origin)
  const host = request.headers.host ?? ''
  const local = ['127.0.0.1', 'localhost', '[::1]'].includes(host.replace(/:\d+$/, ''))
  return local && ['127.0.0.1', 'localhost'].includes(hostname)
    ? `${protocol}//${host}/connected`
    : `${origin}/connected`
}

/** What services can be connected, what was asked of them, and what they granted. */
export const grantRoutes = (database: Database, letters: Letters): Router => {
  const router = Router()
  serve(router, endpoints.services, () =>
    Promise.resolve({ services: services().map(({ key, name, sort, reports }) => ({ key, name, sort, reports })) }),
  )
  serve(router, endpoints.grants, async ({ actor }) => ({
    grants: await asClient(database, actor, tx => loadGrants(tx)),
  }))
  serve(router, endpoints.askGrant, ({ actor, body, request }) =>
    askGrant(database, actor, body, redirectOf(request, letters.origin)),
  )
  serve(router, endpoints.askOwner, async ({ actor, body }) => {
    const { grantId, token, told } = await askOwner(database, actor, body)
    // What follows the # is sent to no server and stands in no log.
    const link = `${letters.origin}/granting#${token}`
    const mailed =
      body.email !== null &&
      (await letters
        .mail({
          to: body.email,
          subject: `${told.practice} asks to see ${told.name} for the books of ${told.client}`,
          text: `${told.by} of ${told.practice}, who keeps the books of ${told.client}, asks you to let Culvert see ${told.name}.\n\nWhat it would see, and what not, stands here. You sign in at ${told.name} yourself; nobody sees a password:\n${link}\n\nIf you do not know ${told.practice}, do nothing.\n`,
        })
        .catch(() => false))
    return { grantId, link, mailed }
  })
  serve(router, endpoints.completeGrant, ({ actor, body }) => completeOwn(database, actor, body))
  serve(router, endpoints.shops, ({ actor, params }) => loadShops(database, actor, params.grant))
  serve(router, endpoints.endGrant, async ({ actor, params }) => ({
    told: await endGrant(database, actor, params.grant),
  }))
  return router
}

/** What the page asks that an owner's link opens. */
export const grantLinkRoutes = (database: Database, { origin }: Letters): Router => {
  const router = Router()
  serve(router, endpoints.lookAtGrant, ({ body }) => lookAtGrant(database, body.token))
  serve(router, endpoints.beginGranting, async ({ body, request, response }) => ({
    address: await beginByLink(
      database,
      { request, response, origin },
      { token: body.token, redirect: redirectOf(request, origin) },
    ),
  }))
  serve(router, endpoints.completeByLink, ({ body, request, response }) =>
    completeByLink(database, { request, response, origin }, body),
  )
  return router
}

import { type Request, type Response, Router, urlencoded } from 'express'
import { z } from 'zod'
import { type Grants, isProgram, program } from './grants.ts'
import { escaped, htmlPage } from './page.ts'
import type { Service, Store } from './store.ts'

/** What a program can ask for, in the words of whoever grants it. */
export const scopes: Readonly<Record<string, string>> = {
  activity: 'see orders, fees, refunds and payouts',
  settlements: 'see settlements with their balances',
  balances: 'see what the account holds',
  buyers: 'see the name and country of buyers',
  statements: 'see the lines of bank accounts',
  lists: 'see accounts, tax codes, contacts, items, balances and open invoices',
}

const asked = z.object({
  response_type: z.literal('code'),
  client_id: z.literal(program.id),
  redirect_uri: z.url(),
  state: z.string().min(8),
  code_challenge: z.string().min(43),
  code_challenge_method: z.literal('S256'),
  scope: z.string().min(1),
})
const granted = asked.extend({
  login: z.string(),
  decision: z.enum(['grant', 'refuse']),
  buyers: z.string().optional(),
})

/** Where the program may be returned to: its own page, on this machine. */
const isOurs = (redirect: string): boolean => {
  const url = new URL(redirect)
  return ['127.0.0.1', 'localhost'].includes(url.hostname) && url.pathname === '/connected'
}

const consentPage = (service: Service, query: z.infer<typeof asked>): string => {
  const wanted = query.scope.split(' ').filter(one => scopes[one])
  const hidden = Object.entries(query)
    .map(([name, value]) => `<input type="hidden" name="${escaped(name)}" value="${escaped(value)}">`)
    .join('')
  const logins = service.logins
    .map(
      ({ name, shops }, index) =>
        `<label><input type="radio" name="login" value="${escaped(name)}"${index === 0 ? ' checked' : ''}> ${escaped(name)}
        <small>${shops.map(id => escaped(service.shops[id]?.name ?? id)).join(', ')}</small></label>`,
    )
    .join('')
  const allowed = wanted
    .map(one =>
      one === 'buyers'
        ? `<li><label><input type="checkbox" name="buyers" value="yes" checked> ${scopes[one]}</label></li>`
        : `<li>${scopes[one]}</li>`,
    )
    .join('')
  return htmlPage(
    service.name,
    `<p>A made-up service: nobody signs in here, and no password is asked for.</p>
    <form method="post" class="box">${hidden}<h2>Who are you?</h2>${logins}
    <h2>Culvert asks to</h2><ul>${allowed}</ul><p>It changes nothing here, and moves no money. You can end this at any time.</p>
    <button name="decision" value="grant">Grant access</button><button name="decision" value="refuse">Refuse</button></form>`,
  )
}

/** The pages on which somebody lets a program in, and the endpoints that give it tokens: RFC 6749, 7636, 7009, 7662 and 8414. */
export const consentRoutes = (store: Store, grants: Grants): Router => {
  const router = Router()
  const serviceOf = (request: Request<{ service: string }>, response: Response): Service | null => {
    const service = store.service(request.params.service)
    if (!service) response.status(404).json({ error: 'no such service' })
    return service
  }
  router.get('/:service/authorize', (request, response) => {
    const service = serviceOf(request, response)
    if (!service) return
    const query = asked.safeParse(request.query)
    // Nobody is sent to an address that is not the program's.
    if (!query.success || !isOurs(query.data.redirect_uri)) {
      response
        .status(400)
        .type('html')
        .send(htmlPage(service.name, '<p>This is no way in: the program is not known.</p>'))
      return
    }
    response.type('html').send(consentPage(service, query.data))
  })
  const readForm = urlencoded({ extended: false, limit: '64kb' })
  router.post('/:service/authorize', readForm, (request: Request<{ service: string }>, response) => {
    const service = serviceOf(request, response)
    if (!service) return
    const body = granted.safeParse(request.body)
    if (!body.success || !isOurs(body.data.redirect_uri)) {
      response.status(400).json({ error: 'invalid_request' })
      return
    }
    const { redirect_uri, state, scope, login, decision, buyers, code_challenge, client_id } = body.data
    const back = new URL(redirect_uri)
    back.searchParams.set('state', state)
    if (decision === 'refuse' || !service.logins.some(one => one.name === login)) {
      back.searchParams.set('error', 'access_denied')
      response.redirect(303, back.href)
      return
    }
    const allowed = scope.split(' ').filter(one => scopes[one] && (one !== 'buyers' || buyers === 'yes'))
    const code = grants.code({
      grant: {
        service: request.params.service,
        login,
        client: client_id,
        scopes: allowed,
        hook: `${back.origin}/api/hooks/${request.params.service}`,
      },
      redirect: redirect_uri,
      challenge: code_challenge,
    })
    back.searchParams.set('code', code)
    response.redirect(303, back.href)
  })
  // The program names itself with its id and secret, as RFC 6749 has it in section 2.3.1.
  const refuseStrangers = (request: Request, response: Response): boolean => {
    const [id, secret] = Buffer.from((request.headers.authorization ?? '').replace(/^Basic /, ''), 'base64')
      .toString('utf8')
      .split(':')
      .map(decodeURIComponent)
    if (isProgram(id ?? '', secret ?? '')) return false
    response.status(401).json({ error: 'invalid_client' })
    return true
  }
  const form = (request: Request): Record<string, string> => z.record(z.string(), z.string()).parse(request.body ?? {})
  router.post('/:service/token', readForm, (request: Request<{ service: string }>, response) => {
    if (!serviceOf(request, response) || refuseStrangers(request, response)) return
    const { grant_type, code = '', redirect_uri = '', code_verifier = '', refresh_token = '' } = form(request)
    const pair =
      grant_type === 'authorization_code'
        ? grants.redeem(code, request.params.service, { redirect: redirect_uri, verifier: code_verifier })
        : grant_type === 'refresh_token'
          ? grants.refresh(request.params.service, refresh_token)
          : null
    response.set('cache-control', 'no-store')
    if (pair) response.json(pair)
    else response.status(400).json({ error: 'invalid_grant' })
  })
  router.post('/:service/introspect', readForm, (request: Request<{ service: string }>, response) => {
    if (!serviceOf(request, response) || refuseStrangers(request, response)) return
    const grant = grants.byRefresh(request.params.service, form(request).token ?? '')
    response.json(
      grant
        ? {
            active: true,
            username: grant.login,
            scope: grant.scopes.join(' '),
            exp: Math.floor(grant.until / 1000),
            client_id: grant.client,
          }
        : { active: false },
    )
  })
  router.post('/:service/revoke', readForm, (request: Request<{ service: string }>, response) => {
    if (!serviceOf(request, response) || refuseStrangers(request, response)) return
    const grant = grants.byRefresh(request.params.service, form(request).token ?? '')
    if (grant) grants.end(grant.id)
    response.json({})
  })
  return router
}

/** How a service tells programs where its endpoints are. */
export const metadataRoutes = (store: Store): Router => {
  const router = Router()
  router.get('/.well-known/oauth-authorization-server/services/:service', (request, response) => {
    if (!store.service(request.params.service)) {
      response.status(404).json({ error: 'no such service' })
      return
    }
    const issuer = `http://${request.headers.host}/services/${request.params.service}`
    response.json({
      issuer,
      authorization_endpoint: `${issuer}/authorize`,
      token_endpoint: `${issuer}/token`,
      revocation_endpoint: `${issuer}/revoke`,
      introspection_endpoint: `${issuer}/introspect`,
      scopes_supported: Object.keys(scopes),
      response_types_supported: ['code'],
      grant_types_supported: ['authorization_code', 'refresh_token'],
      code_challenge_methods_supported: ['S256'],
      token_endpoint_auth_methods_supported: ['client_secret_basic'],
    })
  })
  return router
}

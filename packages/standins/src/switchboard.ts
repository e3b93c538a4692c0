import { Router, urlencoded } from 'express'
import { z } from 'zod'
import { now } from './clock.ts'
import { type FaultSwitches, faultSwitches } from './faults.ts'
import type { Grants } from './grants.ts'
import { type Told, tellOfNews } from './hooks.ts'
import { escaped, htmlPage } from './page.ts'
import { isScene, linesOf, scenes } from './scenes.ts'
import type { Store } from './store.ts'

const faultText: Readonly<Record<keyof FaultSwitches, string>> = {
  slowMs: 'every answer is late by, in milliseconds',
  tooManyEvery: 'asks to wait, every nth request',
  failEvery: 'fails, every nth request',
  cutOffEvery: 'breaks off in the middle, every nth request',
  repeatPageEvery: 'sends the page before once more, every nth page',
  expireTokenEvery: 'lets a token run out after so many uses',
  shuffle: 'lines come out of order',
  endless: 'there is always another page',
}

const faultFields = (faults: FaultSwitches): string =>
  Object.entries(faultText)
    .map(([name, text]) => {
      const value = faults[name as keyof FaultSwitches]
      return typeof value === 'boolean'
        ? `<label><input type="checkbox" name="${name}" value="yes"${value ? ' checked' : ''}> ${text}</label>`
        : `<label><input type="number" min="0" name="${name}" value="${value}"> ${text}</label>`
    })
    .join('')

/** The page on which faults and scenes of the stand-ins are set off by hand. */
export const switchboardRoutes = (
  store: Store,
  grants: Grants,
  faults: { get(): FaultSwitches; set(faults: FaultSwitches): void },
): Router => {
  const router = Router()
  const readForm = urlencoded({ extended: false, limit: '64kb' })
  let said = ''
  let told: readonly Told[] = []
  const shopsOf = (name: string): string =>
    // Nothing is sold at a bank or in a ledger.
    Object.entries(
      ['bank', 'ledger'].includes(store.service(name)?.sort ?? '') ? {} : (store.service(name)?.shops ?? {}),
    )
      .map(
        ([id, shop]) =>
          `<tr><td>${escaped(shop.name)}</td><td>${shop.lines.length} lines</td><td><form method="post" action="/scenes/${name}/${id}">
          ${Object.entries(scenes)
            .map(
              ([scene, text]) =>
                `<button name="scene" value="${scene}" title="${text}">${scene.replace('_', ' ')}</button>`,
            )
            .join('')}</form></td></tr>`,
      )
      .join('')
  const granted = (name: string): string =>
    store
      .grants()
      .filter(one => one.service === name)
      .map(
        one => `<tr><td>${escaped(one.login)}</td><td>${escaped(one.scopes.join(', '))}</td>
        <td>${one.until <= now() ? 'over' : `until ${new Date(one.until).toISOString().slice(0, 10)}`}</td>
        <td><form method="post" action="/grants/${one.id}"><button name="act" value="withdraw">Withdraw</button><button name="act" value="run_out">Let it run out</button></form></td></tr>`,
      )
      .join('')
  router.get('/', (_request, response) => {
    const services = store.services().map(
      name => `<article><h2>${escaped(store.service(name)?.name ?? name)}</h2><table>${shopsOf(name)}</table>
      <h2>Let in</h2><table>${granted(name) || '<tr><td>nobody</td></tr>'}</table></article>`,
    )
    const news = told.map(one => `${escaped(one.to)}: ${one.status ?? 'no answer'}`).join('<br>')
    response.type('html').send(
      htmlPage(
        'Stand-ins',
        `<p>Made-up services, for trying things out. <a href="/mail">Letters</a></p>
        ${said === '' ? '' : `<p role="status">${escaped(said)}${news ? `<br><small>told: ${news}</small>` : ''}</p>`}
        ${services.join('')}
        <form method="post" action="/faults" class="box"><h2>Faults of all of them</h2>${faultFields(faults.get())}<button>Set</button></form>`,
      ),
    )
  })
  router.post('/faults', readForm, (request, response) => {
    const form = z.record(z.string(), z.string()).parse(request.body ?? {})
    const set = faultSwitches.safeParse(
      Object.fromEntries(
        Object.keys(faultText).map(name => [
          name,
          ['shuffle', 'endless'].includes(name) ? form[name] === 'yes' : Number(form[name] || 0),
        ]),
      ),
    )
    if (set.success) faults.set(set.data)
    said = set.success ? 'The faults are set.' : 'No fault was set: whole numbers from 0 on are taken.'
    told = []
    response.redirect(303, '/')
  })
  router.post('/scenes/:service/:shop', readForm, async (request, response) => {
    const { service: name, shop: id } = request.params as { service: string; shop: string }
    const { scene } = z.object({ scene: z.string() }).parse(request.body ?? {})
    const service = store.service(name)
    const shop = service?.shops[id]
    if (!service || !shop || !isScene(scene)) {
      response.status(404).json({ error: 'no such scene' })
      return
    }
    const added = linesOf(scene, shop, new Date(now()))
    store.keepService(name, {
      ...service,
      shops: { ...service.shops, [id]: { ...shop, lines: [...shop.lines, ...added] } },
    })
    told = added.length === 0 ? [] : await tellOfNews(store, name, id)
    said =
      added.length === 0
        ? `Nothing at ${shop.name} could have that.`
        : `${shop.name}: ${scenes[scene]}, ${added.length} lines.`
    response.redirect(303, '/')
  })
  router.post('/grants/:id', readForm, (request, response) => {
    const { act } = z.object({ act: z.enum(['withdraw', 'run_out']) }).parse(request.body ?? {})
    const { id } = request.params as { id: string }
    if (act === 'withdraw') grants.end(id)
    else grants.runOut(id)
    said = act === 'withdraw' ? 'What was granted is withdrawn.' : 'What was granted has run out.'
    told = []
    response.redirect(303, '/')
  })
  return router
}

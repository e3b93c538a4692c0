import { type MissingNames, makeNamesBody } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { afterAll, beforeEach, expect, it } from 'vitest'
import { removeContact, saveContacts } from '../books/contacts.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadContacts } from '../ledger/contacts.ts'
import { csvOf, makeClient, testDatabase, upload } from '../testing/madeClient.ts'
import { loadMissingNames, makeNames } from './missingNames.ts'
import { loadProducts } from './productsSeen.ts'
import { saveRules } from './saveRules.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

const sale = (id: string, sku: string, description: string, amount: string) => ({
  ...{ line_id: id, settlement_id: 'W-1', occurred_at: '2026-03-02T10:00:00Z', kind: 'sale', currency: 'EUR' },
  ...{ sku, description, amount },
})

let actor: Actor
beforeEach(async () => {
  actor = await makeClient(database, 'Names')
  await upload(
    database,
    actor,
    csvOf([
      sale('1', 'BOWL-L', 'Large bowl', '45.00'),
      sale('2', 'BOWL-L', 'Big blue bowl', '40.00'),
      sale('3', 'MUG', 'Mug', '18.50'),
      sale('4', '', 'Something on the counter', '3.00'),
    ]),
  )
})

const names = (): Promise<MissingNames> => asClient(database, actor, loadMissingNames)
const contacts = () => asClient(database, actor, loadContacts)
const make = (wanted: object) =>
  makeNames(database, actor, makeNamesBody.parse({ version: 0, contacts: [], items: [], ...wanted }))
const allOf = (of: MissingNames) => ({
  version: of.version,
  contacts: of.contacts.map(({ key, use, make }) => ({ key, use: use?.code ?? null, make: use ? null : make })),
  items: of.items.map(({ sku, name, account }) => ({ sku, name, account })),
})
const contactOfSource = async () =>
  (
    await asClient(database, actor, tx =>
      rowsOf(tx, { contact: is.maybe(is.text) }, sql`SELECT contact FROM source WHERE source = 'openhall'`),
    )
  )[0]?.contact

it('a source’s contact and items of what it sold are found missing, made in one act, and missing no more', async () => {
  const before = await names()
  expect(before.contacts).toMatchObject([{ of: 'source', name: 'Openhall', sort: 'both', use: null }])
  expect(before.items.map(one => [one.sku, one.name, one.otherNames, one.amount, one.account])).toEqual([
    ['BOWL-L', 'Large bowl', ['Big blue bowl'], 8500, '4000'],
    ['MUG', 'Mug', [], 1850, '4000'],
  ])
  expect(before.untold).toBe(1)
  expect(await make(allOf(before))).toEqual({ contacts: 1, items: 2 })
  const after = await names()
  expect([after.contacts, after.items]).toEqual([[], []])
  expect(await contacts()).toMatchObject([{ code: 'Openhall', name: 'Openhall', sort: 'both' }])
  // Whatever title it was sold under finds the item.
  const { products } = await asClient(database, actor, loadProducts)
  expect(products.filter(one => one.sku === 'BOWL-L').map(one => one.items)).toEqual([['BOWL-L'], ['BOWL-L']])
  await expect(make(allOf(before))).rejects.toMatchObject({ code: 'saved_meanwhile' })
})

it('a contact there is is used and becomes what the source needs; one of its name is never gone over', async () => {
  await saveContacts(database, actor, [
    {
      code: 'S-1',
      name: 'OPENHALL Ltd',
      sort: 'supplier',
      email: 'pay@openhall.example',
      taxNumber: null,
      country: null,
    },
    { code: 'Somebody', name: 'Else', sort: 'customer', email: null, taxNumber: null, country: null },
  ])
  const { contacts: missing } = await names()
  expect(missing).toMatchObject([{ use: { code: 'S-1', name: 'OPENHALL Ltd', why: 'same_name' } }])
  const key = missing[0]?.key
  const other = { key, use: null, make: { code: 'Somebody', name: 'Openhall' } }
  await expect(make({ contacts: [other] })).rejects.toMatchObject({ code: 'contact_taken' })
  await expect(make({ contacts: [{ key, use: 'nobody', make: null }] })).rejects.toMatchObject({ code: 'not_missing' })
  await make({ contacts: [{ key, use: 'S-1', make: null }] })
  expect(await contactOfSource()).toBe('S-1')
  expect((await contacts()).find(one => one.code === 'S-1')).toMatchObject({
    ...{ sort: 'both', name: 'OPENHALL Ltd', email: 'pay@openhall.example' },
  })
  await expect(removeContact(database, actor, 'S-1')).rejects.toMatchObject({ code: 'contact_open' })
})

it('whom a rule names is missing until somebody is called so', async () => {
  await saveRules(database, actor, [
    {
      id: 1,
      conditions: [{ field: 'description', is: 'containing', value: 'bowl' }],
      actions: [{ set: 'contact', contact: 'Bowl Fair GmbH' }],
    },
  ])
  const { contacts: missing } = await names()
  const rule = missing.find(one => one.of === 'rule')
  expect(rule).toMatchObject({ name: 'Bowl Fair GmbH', use: null })
  await make({ contacts: [{ key: rule?.key, use: null, make: rule?.make }] })
  expect((await names()).contacts.map(one => one.of)).toEqual(['source'])
})

it('pressed twice, or by two at once, makes each once', async () => {
  const wanted = allOf(await names())
  const both = await Promise.allSettled([make(wanted), make(wanted)])
  expect(both.map(one => one.status).sort()).toEqual(['fulfilled', 'rejected'])
  const onlyContacts = async () =>
    Promise.allSettled([make({ contacts: wanted.contacts }), make({ contacts: wanted.contacts })])
  expect((await onlyContacts()).map(one => one.status)).toEqual(['rejected', 'rejected'])
  expect(await contacts()).toHaveLength(1)
})

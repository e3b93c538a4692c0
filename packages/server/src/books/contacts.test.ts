import { Readable } from 'node:stream'
import { afterAll, expect, it } from 'vitest'
import { type Actor, asClient } from '../database/connect.ts'
import { loadContacts } from '../ledger/contacts.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { takeChart } from './chartFile.ts'
import { readContacts, readOpenItems } from './contactFile.ts'
import { loadOpenItemPage, removeContact, saveContacts, saveOpenItems } from './contacts.ts'
import { postOpening } from './openingBalances.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

const bodyOf = (text: string) => Readable.from([Buffer.from(text)])
const contactsFrom = (actor: Actor, text: string) => asClient(database, actor, tx => readContacts(tx, bodyOf(text), {}))
const itemsFrom = (actor: Actor, text: string) =>
  asClient(database, actor, tx => readOpenItems(tx, bodyOf(text), { sort: 'invoice' }))
const blank = { email: null, taxNumber: null, country: null }

it('brings contacts over, and again: what is new, changed, and not in the list any more', async () => {
  const actor = await makeClient(database, 'Contacts')
  const first = await contactsFrom(
    actor,
    'Number,Name,Type,E-mail\n1,Harbour Café,customer,in@harbour.example\n2,Argile,supplier,\n',
  )
  expect(first.contacts.map(one => one.state)).toEqual(['new', 'new'])
  await saveContacts(
    database,
    actor,
    first.contacts.map(({ row: _, state: __, ...one }) => one),
  )
  // What a later list does not tell stays as it was.
  const again = await contactsFrom(actor, 'Number,Name\n1,Harbour Cafe Ltd\n3,Kiln Works\n')
  expect(again.contacts.map(({ code, state, email }) => [code, state, email])).toEqual([
    ['1', 'changed', 'in@harbour.example'],
    ['3', 'new', null],
  ])
  expect(again.vanished).toEqual([{ code: '2', name: 'Argile' }])
  await removeContact(database, actor, '2')
  await expect(removeContact(database, actor, '2')).rejects.toThrow(/is no contact/)
  expect((await asClient(database, actor, loadContacts)).map(one => one.code)).toEqual(['1'])
})

it('holds what is open against the opening balances, by contact however it is written', async () => {
  const actor = await makeClient(database, 'Open items')
  await saveContacts(database, actor, [{ code: '70001', name: 'Harbour Café', sort: 'customer', ...blank }])
  const list = await itemsFrom(
    actor,
    'Number,Customer,Date,Amount\nR-1,HARBOUR CAFE,2026-03-15,120.00\nR-2,Somebody New,2026-03-16,30.00\n',
  )
  expect(list.items.map(({ contact, makes, state }) => [contact, makes, state])).toEqual([
    ['70001', false, 'new'],
    ['Somebody New', true, 'new'],
  ])
  const items = list.items.map(({ row: _, state: __, makes: ___, unfit: ____, ...item }) => item)
  await expect(saveOpenItems(database, actor, { items, gone: [], contacts: [] })).rejects.toThrow(
    /Somebody New is no contact/,
  )
  await saveOpenItems(database, actor, {
    items,
    gone: [],
    contacts: [{ code: 'Somebody New', name: 'Somebody New', sort: 'customer', ...blank }],
  })
  const held = async () => (await asClient(database, actor, loadOpenItemPage)).held[0]
  expect(await held()).toMatchObject({ sort: 'invoice', open: 15_000, opened: 0, accounts: [] })
  await takeChart(database, actor, [
    { code: '1100', name: 'Customers', type: 'receivable', currency: 'EUR', bankNumber: null, description: '' },
  ])
  await postOpening(database, actor, {
    date: '2025-12-31',
    lines: [
      { account: '1100', amount: 15_000 },
      { account: '2200', amount: -15_000 },
    ],
  })
  expect(await held()).toMatchObject({ open: 15_000, opened: 15_000, accounts: ['1100'] })
  await expect(removeContact(database, actor, '70001')).rejects.toThrow(/Something is open/)
  // The next list no longer has the first: it seems paid.
  const next = await itemsFrom(actor, 'Number,Customer,Date,Amount\nR-2,Somebody New,2026-03-16,10.00\n')
  expect(next.items.map(one => one.state)).toEqual(['changed'])
  expect(next.vanished.map(one => one.number)).toEqual(['R-1'])
  await saveOpenItems(database, actor, {
    items: next.items.map(({ row: _, state: __, makes: ___, unfit: ____, ...item }) => item),
    gone: next.vanished,
    contacts: [],
  })
  expect(await held()).toMatchObject({ open: 1000, opened: 15_000 })
})

it('takes no item of which two contacts may be meant', async () => {
  const actor = await makeClient(database, 'Two of a name')
  await saveContacts(database, actor, [
    { code: '1', name: 'Fitch', sort: 'customer', ...blank },
    { code: '2', name: 'fitch', sort: 'supplier', ...blank },
  ])
  const list = await itemsFrom(
    actor,
    'Number,Customer,Date,Amount\nR-1,Fitch,2026-03-15,120.00\nR-2,2,2026-03-15,1.00\n',
  )
  expect(list.items.map(({ contact, unfit }) => [contact, unfit])).toEqual([
    ['Fitch', 'two_contacts'],
    ['2', null],
  ])
})

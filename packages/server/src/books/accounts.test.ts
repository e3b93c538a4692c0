import { Readable } from 'node:stream'
import { newSource, savedSource } from '@culvert/contract'
import { afterAll, describe, expect, it } from 'vitest'
import { asClient } from '../database/connect.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { createSource } from '../sources/createSource.ts'
import { loadSourceSettings, saveSource } from '../sources/sourceSettings.ts'
import { makeClient, makeClientWithWeeks, settlementKeys, testDatabase } from '../testing/madeClient.ts'
import { loadAccount, saveAccount } from './accounts.ts'
import { readChart, takeChart } from './chartFile.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

type Actor = Awaited<ReturnType<typeof makeClient>>
const accountOf = (actor: Actor, code: string) => asClient(database, actor, tx => loadAccount(tx, code))
const save = async (actor: Actor, code: string, change: object) => {
  const { account, version } = await accountOf(actor, code)
  return saveAccount(database, actor, { code, version, account: { ...account, ...change } })
}
const chartOf = (actor: Actor, ...codes: string[]) =>
  takeChart(
    database,
    actor,
    codes.map(code => ({
      ...{ code, name: `Savings ${code}`, type: 'bank' as const, currency: 'EUR' },
      ...{ bankNumber: null, description: '' },
    })),
  )
const chart = (actor: Actor, text: string | Buffer) =>
  asClient(database, actor, tx => readChart(tx, Readable.from([Buffer.from(text)]), {}))

describe('an account', () => {
  it('that nothing rests on is renumbered, retyped, and archived', async () => {
    const actor = await makeClient(database, 'Free accounts')
    await takeChart(database, actor, [
      { code: '8000', name: 'Spare', type: 'expense', currency: 'EUR', bankNumber: null, description: '' },
    ])
    await save(actor, '8000', { code: '8001', type: 'other_income', name: 'Spare income' })
    expect((await accountOf(actor, '8001')).account).toMatchObject({ type: 'other_income', name: 'Spare income' })
    await save(actor, '8001', { archived: true })
    expect((await accountOf(actor, '8001')).account.archived).toBe(true)
    await expect(accountOf(actor, '8000')).rejects.toMatchObject({ code: 'not_found' })
  })

  it('that is used keeps number, type and currency, and says by what', async () => {
    const { actor } = await makeClientWithWeeks(database, 'Used accounts', 1, 5)
    await postSettlements(database, actor, await settlementKeys(database, actor))
    const { uses } = await accountOf(actor, '4000')
    expect(uses.map(one => one.use)).toEqual(expect.arrayContaining(['entries', 'routes']))
    for (const change of [{ code: '4001' }, { type: 'expense' }, { currency: 'USD' }])
      await expect(save(actor, '4000', change)).rejects.toMatchObject({ code: 'account_in_use' })
    await expect(save(actor, '4000', { archived: true })).rejects.toMatchObject({ code: 'account_not_empty' })
    await save(actor, '4000', { name: 'Sales of pots', description: 'what is thrown here' })
    expect((await accountOf(actor, '4000')).account).toMatchObject({ name: 'Sales of pots', code: '4000' })
  })

  it('that takes no postings holds settlements up until it does', async () => {
    const { actor } = await makeClientWithWeeks(database, 'Head account', 1, 5)
    await save(actor, '4000', { takesPostings: false })
    const { notPosted } = await postSettlements(database, actor, await settlementKeys(database, actor))
    expect(notPosted).toHaveLength(1)
    await save(actor, '4000', { takesPostings: true })
    expect((await postSettlements(database, actor, await settlementKeys(database, actor))).posted).toHaveLength(1)
  })

  it('that takes no payments is offered and taken for no payouts, and stays one that takes them while a source pays into it', async () => {
    const actor = await makeClient(database, 'Savings')
    await chartOf(actor, '1001')
    const payTo = async (account: string) => {
      const { version, source } = await asClient(database, actor, tx => loadSourceSettings(tx, 'openhall'))
      const wanted = savedSource.parse({ ...source, banks: source.banks.map(bank => ({ ...bank, account })) })
      return saveSource(database, actor, { source: 'openhall', wanted, version })
    }
    await save(actor, '1001', { takesPayments: false })
    await expect(payTo('1001')).rejects.toMatchObject({ code: 'takes_no_payments' })
    // Nor does what is no bank or card account at all.
    await expect(payTo('4000')).rejects.toMatchObject({ code: 'takes_no_payments' })
    await save(actor, '1001', { takesPayments: true })
    await payTo('1001')
    await expect(save(actor, '1001', { takesPayments: false })).rejects.toMatchObject({ code: 'account_in_use' })
    await save(actor, '1000', { takesPayments: false })
    // A source that is added, and the account that it is to pay into put aside, at once: one of them finds the other.
    await chartOf(actor, '1002', '1003', '1004', '1005')
    for (const account of ['1002', '1003', '1004', '1005']) {
      const added = newSource.parse({
        ...{ source: `pay-${account}`, name: account, shape: 'gateway', clearing: [] },
        banks: [{ direction: 'into', currency: 'EUR', account }],
      })
      const raced = await Promise.allSettled([
        createSource(database, actor, added),
        save(actor, account, { takesPayments: false }),
      ])
      expect(raced.filter(one => one.status === 'fulfilled')).toHaveLength(1)
    }
  })

  it('shares neither its number nor its bank’s with another', async () => {
    const actor = await makeClient(database, 'Numbers')
    await takeChart(database, actor, [
      { code: '1001', name: 'Second bank', type: 'bank', currency: 'EUR', bankNumber: null, description: '' },
    ])
    await expect(save(actor, '1001', { code: '1000' })).rejects.toMatchObject({ code: 'account_taken' })
    await expect(save(actor, '1001', { bankNumber: 'IE00TEST' })).rejects.toMatchObject({ code: 'bank_number_taken' })
  })
})

describe('a list of accounts', () => {
  it('shows what is new, changed and gone before it is taken, and is taken once', async () => {
    const actor = await makeClient(database, 'Listed')
    const text =
      'Konto;Bezeichnung;Kontoart\n4000;Erlöse;Ertrag\n4100;Shipping charged;Ertrag\n5000;Wareneingang;Wareneinsatz\n5100;Rätsel;Zorp\n'
    const file = await chart(actor, text)
    expect(file.rows.map(({ code, state, type }) => [code, state, type])).toEqual([
      ['4000', 'changed', 'income'],
      ['4100', 'same', 'income'],
      ['5000', 'new', 'cost_of_sales'],
      ['5100', 'new', null],
    ])
    expect(file.vanished.map(one => one.code)).toContain('1000')
    const wanted = file.rows.map(({ code, name, type }) => ({
      ...{ code, name, currency: 'EUR', bankNumber: null, description: '' },
      type: type ?? ('expense' as const),
    }))
    expect(await takeChart(database, actor, wanted)).toEqual({ added: 2, changed: 1, same: 1 })
    expect(await takeChart(database, actor, wanted)).toEqual({ added: 0, changed: 0, same: 4 })
  })

  it('in another encoding is refused until somebody names it', async () => {
    const actor = await makeClient(database, 'Encoded')
    const latin = Buffer.from('Number;Name;Type\n8000;Caf\xe9;expense\n', 'latin1')
    await expect(chart(actor, latin)).rejects.toMatchObject({ name: 'FileRefused' })
    const read = await asClient(database, actor, tx =>
      readChart(tx, Readable.from([latin]), { encoding: 'windows-1252' }),
    )
    expect(read.rows[0]?.name).toBe('Café')
    const wide = await chart(actor, Buffer.from('\ufeffNumber;Name;Type\n8000;Café;expense\n', 'utf16le'))
    expect(wide.rows[0]?.name).toBe('Café')
  })
})

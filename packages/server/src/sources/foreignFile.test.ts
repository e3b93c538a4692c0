import { Readable } from 'node:stream'
import type { SavedColumns } from '@culvert/contract'
import { newSource } from '@culvert/contract'
import { proposeChoice } from '@culvert/core'
import { sql } from 'drizzle-orm'
import ExcelJS from 'exceljs'
import { afterAll, describe, expect, it } from 'vitest'
import { asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { saveColumns } from '../files/columns.ts'
import { lookAtFile } from '../files/lookAtFile.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { createSource } from './createSource.ts'
import { loadSourceSettings, removeSource, saveSource } from './sourceSettings.ts'
import { uploadFile } from './uploadFile.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

type Actor = Awaited<ReturnType<typeof makeClient>>
const header = ['booked', 'merch_ref', 'type', 'amount', 'cost', 'settled', 'cur', 'buyer', 'plan']
const rows = [
  ['01/04/2026', 'F-5102', 'PURCHASE', '64,50', '-1,87', '62,63', 'EUR', 'Odile Fairweather', '12 weeks'],
  ['17/04/2026', 'F-5089', 'REFUND', '-36,40', '0,00', '-36,40', 'EUR', 'A. Marchbank', '4 weeks'],
]
const csv = (records: readonly (readonly string[])[]) => [header, ...records].map(one => one.join(';')).join('\n')
const body = (text: string | Buffer) => Readable.from([Buffer.from(text)])
const thrimble = async (name: string): Promise<Actor> => {
  const actor = await makeClient(database, name)
  await createSource(
    database,
    actor,
    newSource.parse({
      ...{ source: 'thrimble', name: 'Thrimble', shape: 'gateway', service: 'pay_later', banks: [] },
      clearing: [{ currency: 'EUR', account: '1240' }],
      make: [{ code: '1240', name: 'Thrimble clearing', type: 'clearing', currency: 'EUR' }],
    }),
  )
  return actor
}
const said: SavedColumns = {
  of: 'activity',
  choice: proposeChoice(header, rows, { shape: 'gateway', timeZone: 'Europe/Dublin' }).choice,
  ...{ encoding: null, sheet: null },
}
const keep = (actor: Actor) => saveColumns(database, actor, { subject: 'source', key: 'thrimble', header, said })
const bring = (actor: Actor, text: string | Buffer) =>
  uploadFile(database, actor, { source: 'thrimble', name: 'thrimble.csv', body: body(text) })
const linesOf = (actor: Actor) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { kind: is.text, amount: is.minor },
      sql`SELECT kind, amount FROM activity_line WHERE source = 'thrimble' ORDER BY line_id COLLATE "C"`,
    ),
  )

describe('a file in columns of its own', () => {
  it('is refused until somebody has said what they mean, and then read, and the next of it too', async () => {
    const actor = await thrimble('Foreign')
    await expect(bring(actor, csv(rows))).rejects.toMatchObject({ faults: [{ code: 'unknown_head' }] })
    await keep(actor)
    expect(await bring(actor, csv(rows))).toMatchObject({ sort: 'activity', added: 3 })
    expect((await linesOf(actor)).map(line => [line.kind, line.amount])).toEqual([
      ['collected', 6450],
      ['processing_fee', -187],
      ['collected_back', -3640],
    ])
    expect(await bring(actor, csv(rows))).toMatchObject({ added: 0, same: 3 })
    const next = ['18/04/2026', 'F-5110', 'PURCHASE', '10,00', '-0,30', '9,70', 'EUR', 'T. Kestrel', '4 weeks']
    expect(await bring(actor, csv([...rows, next]))).toMatchObject({ added: 2, same: 3 })
  })

  it('comes in whole or not at all', async () => {
    const actor = await thrimble('Half a file')
    await keep(actor)
    const odd = [...(rows[0] as string[])]
    odd[5] = '62,36'
    await expect(bring(actor, csv([...rows, odd]))).rejects.toMatchObject({
      faults: [{ row: 4, code: 'row_does_not_add' }],
    })
    await expect(
      bring(actor, csv([...rows, ['02/04/2026', 'F', 'ZORP', '1', '0', '1', 'EUR', '', '']])),
    ).rejects.toMatchObject({
      faults: [{ row: 4, column: 'type', code: 'unknown_word' }],
    })
    expect(await linesOf(actor)).toEqual([])
  })

  it('of another head is not read by what was said of this one', async () => {
    const actor = await thrimble('Another head')
    await keep(actor)
    await expect(bring(actor, csv(rows).replace('settled', 'paid out'))).rejects.toMatchObject({
      faults: [{ code: 'unknown_head' }],
    })
  })

  it('may hold settlements or balances: it is known for that, and read as somebody has said', async () => {
    const actor = await thrimble('Settlements and balances')
    const statements =
      'Abrechnung;Zeitraum von;Zeitraum bis;Anfangssaldo;Endsaldo\nA-1;01.04.2026;30.04.2026;0,00;1.026,23\n'
    const balances = 'Datum;Verfügbar;Ausstehend\n30.04.2026;1.026,23;5,00\n'
    const look = (text: string, as: 'activity' | 'balances' | null = null) =>
      asClient(database, actor, tx =>
        lookAtFile(tx, {
          open: () => body(text),
          of: { subject: 'source', key: 'thrimble' },
          encoding: null,
          sheet: null,
          as,
        }),
      )
    const say = async (text: string) => {
      const { proposed, header } = await look(text)
      if (!proposed || proposed.said.of === 'activity' || proposed.said.of === 'bank')
        throw new Error('taken for something else')
      const said = { ...proposed.said, choice: { ...proposed.said.choice, currency: 'EUR' } } as SavedColumns
      await saveColumns(database, actor, { subject: 'source', key: 'thrimble', header, said })
      return said.of
    }
    expect(await say(statements)).toBe('settlements')
    expect(await bring(actor, statements)).toMatchObject({ sort: 'settlements', added: 1 })
    expect(await say(balances)).toBe('balances')
    expect(await bring(actor, balances)).toMatchObject({ sort: 'balances', added: 1 })
    await expect(bring(actor, balances.replace('1.026,23', 'viel'))).rejects.toMatchObject({
      faults: [{ row: 2, column: 'Verfügbar', code: 'not_a_number_so_mapped' }],
    })
    const kept = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { closing: is.minor, available: is.minor, pending: is.minor },
        sql`SELECT s.closing_balance AS closing, b.available, b.pending FROM settlement s, reported_balance b
          WHERE s.source = 'thrimble' AND s.key = 'A-1' AND b.source = 'thrimble'`,
      ),
    )
    expect(kept).toEqual([{ closing: 102_623, available: 102_623, pending: 500 }])
    // Whoever says that it holds something else is asked about that.
    expect(await look(balances, 'activity')).toMatchObject({ saved: null, proposed: { said: { of: 'activity' } } })
    expect(await look(balances)).toMatchObject({ saved: { of: 'balances' } })
  })

  it('is looked at before: what it is, what is proposed, and what was said before', async () => {
    const actor = await thrimble('Looked at')
    const look = (text: string | Buffer) =>
      asClient(database, actor, tx =>
        lookAtFile(tx, {
          open: () => body(text),
          of: { subject: 'source', key: 'thrimble' },
          encoding: null,
          sheet: null,
          as: null,
        }),
      )
    const first = await look(csv(rows))
    expect(first).toMatchObject({ sort: 'table', format: 'csv', count: 2, saved: null })
    expect(first.proposed?.questions).toEqual([])
    await keep(actor)
    expect((await look(csv(rows))).saved).toEqual(said)
    expect((await look('line_id,occurred_at,kind,currency,amount\n1,2026-01-01T00:00:00Z,sale,EUR,1\n')).sort).toBe(
      'activity',
    )
    expect((await look(':20:X\n:25:1\n:60F:C260101EUR1,00\n')).format).toBe('mt940')
    expect((await look('OFXHEADER:100\n<OFX></OFX>')).format).toBe('ofx')
    expect((await look('<?xml version="1.0"?><Document/>')).format).toBe('camt')
    expect((await look(Buffer.from([0x25, 0x50, 0x44, 0x46, 0, 1, 2, 3]))).sort).toBe('unknown')
    const odd = await look(Buffer.from('a;b\nCaf\xe9;1\n', 'latin1'))
    expect(odd.encodings.find(one => one.encoding === 'windows-1252')?.sample).toBe('Café;1')
  })

  it('of a workbook is read from its sheet, and a broken one is a fault', async () => {
    const actor = await thrimble('Workbook')
    const book = new ExcelJS.Workbook()
    book.addWorksheet('Notes').addRow(['nothing'])
    const sheet = book.addWorksheet('April')
    sheet.addRow(header)
    for (const row of rows) sheet.addRow(row)
    const bytes = Buffer.from(await book.xlsx.writeBuffer())
    await keep(actor)
    const take = (told: object) =>
      uploadFile(database, actor, { source: 'thrimble', name: 'thrimble.xlsx', body: body(bytes), told })
    expect(await take({ sheet: 'April' })).toMatchObject({ added: 3 })
    await expect(take({ sheet: 'May' })).rejects.toMatchObject({ faults: [{ code: 'not_a_sheet' }] })
    await expect(bring(actor, bytes.subarray(0, bytes.length / 2))).rejects.toMatchObject({
      faults: [{ code: 'not_a_sheet' }],
    })
  })
})

describe('what a source is', () => {
  it('is changed as a version of the setup', async () => {
    const actor = await thrimble('Changed source')
    const { source, version } = await asClient(database, actor, tx => loadSourceSettings(tx, 'thrimble'))
    const banks = [{ direction: 'into' as const, currency: 'EUR', region: '', account: '1000' }]
    const save = (wanted: typeof source) => saveSource(database, actor, { source: 'thrimble', wanted, version })
    await expect(
      save({ ...source, banks: [{ ...banks[0], account: '9999' } as (typeof banks)[0]] }),
    ).rejects.toMatchObject({
      code: 'takes_no_payments',
    })
    await save({ ...source, name: 'Thrimble later', banks })
    expect((await asClient(database, actor, tx => loadSourceSettings(tx, 'thrimble'))).source).toMatchObject({
      name: 'Thrimble later',
      banks,
    })
    await expect(save(source)).rejects.toMatchObject({ code: 'saved_meanwhile' })
  })

  it('is removed with what it brought, and another of its name is refused', async () => {
    const actor = await thrimble('Removed source')
    await expect(
      createSource(
        database,
        actor,
        newSource.parse({ source: 'thrimble', name: 'Again', shape: 'gateway', clearing: [], banks: [] }),
      ),
    ).rejects.toMatchObject({ code: 'source_taken' })
    await keep(actor)
    await bring(actor, csv(rows))
    await removeSource(database, actor, 'thrimble')
    expect(await linesOf(actor)).toEqual([])
    await expect(removeSource(database, actor, 'thrimble')).rejects.toMatchObject({ code: 'not_found' })
  })
})

import { Readable } from 'node:stream'
import { bankPage } from '@culvert/contract'
import { proposeBankChoice } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { afterAll, describe, expect, it } from 'vitest'
import { asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { saveColumns } from '../files/columns.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { loadBankPage } from './loadBank.ts'
import { type StatementTold, uploadStatement } from './uploadStatement.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

type Actor = Awaited<ReturnType<typeof makeClient>>
const bring = (actor: Actor, text: string | Buffer, told: StatementTold = {}) =>
  uploadStatement(database, actor, { name: 'statement', body: Readable.from([Buffer.from(text)]), told })
const stored = (actor: Actor) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { date: is.text, amount: is.minor },
      sql`SELECT date::text, amount FROM bank_line ORDER BY date, amount, line_id`,
    ),
  )
const statements = (actor: Actor) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      {
        format: is.text,
        from: is.text,
        to: is.text,
        opening: is.maybe(is.minor),
        closing: is.maybe(is.minor),
        sum: is.minor,
      },
      sql`SELECT format, from_date::text AS "from", to_date::text AS "to", opening, closing, sum FROM statement ORDER BY at, statement_id`,
    ),
  )

const mt940 = `:20:S
:25:IE00TEST
:28C:21/1
:60F:C260331EUR100,00
:61:260401C20,00NTRFOH-1//B1
:86:OPENHALL 1
:61:260402D5,00NMSCNONREF
:86:CLAY
:61:260402D5,00NMSCNONREF
:86:CLAY
:62F:C260402EUR110,00
`
const ofx = `OFXHEADER:100
ENCODING:USASCII
CHARSET:1252

<OFX><BANKMSGSRSV1><STMTTRNRS><STMTRS><CURDEF>EUR<BANKACCTFROM><ACCTID>IE00TEST</BANKACCTFROM><BANKTRANLIST><DTSTART>20260401<DTEND>20260402
<STMTTRN><DTPOSTED>20260401<TRNAMT>20.00<FITID>X1<NAME>OPENHALL 1</STMTTRN>
<STMTTRN><DTPOSTED>20260402<TRNAMT>-5.00<FITID>X2<NAME>CLAY</STMTTRN>
<STMTTRN><DTPOSTED>20260402<TRNAMT>-5.00<FITID>X3<NAME>CLAY</STMTTRN>
</BANKTRANLIST><LEDGERBAL><BALAMT>110.00<DTASOF>20260402</LEDGERBAL></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>`
const camt = `<?xml version="1.0" encoding="ISO-8859-1"?><Document><BkToCstmrStmt><Stmt><ElctrncSeqNb>21</ElctrncSeqNb><FrToDt><FrDtTm>2026-04-01T00:00:00</FrDtTm><ToDtTm>2026-04-02T23:59:59</ToDtTm></FrToDt>
<Acct><Id><IBAN>IE00TEST</IBAN></Id></Acct><Bal><Tp><CdOrPrtry><Cd>OPBD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">100.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-04-01</Dt></Dt></Bal>
<Bal><Tp><CdOrPrtry><Cd>CLBD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">110.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-04-02</Dt></Dt></Bal>
${[
  ['20.00', 'CRDT', '2026-04-01', 'N1'],
  ['5.00', 'DBIT', '2026-04-02', 'N2'],
  ['5.00', 'DBIT', '2026-04-02', 'N3'],
]
  .map(
    ([amount, side, day, id]) =>
      `<Ntry><Amt Ccy="EUR">${amount}</Amt><CdtDbtInd>${side}</CdtDbtInd><Sts>BOOK</Sts><BookgDt><Dt>${day}</Dt></BookgDt><AcctSvcrRef>${id}</AcctSvcrRef><AddtlNtryInf>Caf\xe9</AddtlNtryInf></Ntry>`,
  )
  .join('')}</Stmt></BkToCstmrStmt></Document>`
const all = [
  { date: '2026-04-01', amount: 2000 },
  { date: '2026-04-02', amount: -500 },
  { date: '2026-04-02', amount: -500 },
]

describe.each([
  ['MT940', mt940],
  ['OFX', ofx],
  ['camt.053', Buffer.from(camt, 'latin1')],
])('%s', (name, file) => {
  it('brings its lines and its statement, and nothing the second time', async () => {
    const actor = await makeClient(database, `Format ${name}`)
    expect(await bring(actor, file)).toMatchObject({ added: 3, same: 0 })
    expect(await bring(actor, file)).toMatchObject({ added: 0, same: 3 })
    expect(await stored(actor)).toEqual(all)
    expect(await statements(actor)).toMatchObject([{ to: '2026-04-02', opening: 10_000, closing: 11_000, sum: 1000 }])
  })
})

it('the same days in every format make no doubles, and two equal payments of a day are two', async () => {
  const actor = await makeClient(database, 'Every format')
  expect(await bring(actor, mt940)).toMatchObject({ added: 3 })
  for (const file of [ofx, Buffer.from(camt, 'latin1')])
    expect(await bring(actor, file)).toMatchObject({ added: 0, same: 3 })
  expect(await stored(actor)).toEqual(all)
})

it('a third equal payment that only the other format has is new', async () => {
  const actor = await makeClient(database, 'A third')
  await bring(actor, mt940)
  const third = ofx.replace(
    '</BANKTRANLIST>',
    '<STMTTRN><DTPOSTED>20260402<TRNAMT>-5.00<FITID>X4<NAME>CLAY</STMTTRN></BANKTRANLIST>',
  )
  expect(await bring(actor, third)).toMatchObject({ added: 1, same: 3 })
  expect(await stored(actor)).toHaveLength(4)
})

it('within one format ids tell lines apart: a further payment of the same day and amount is new', async () => {
  const actor = await makeClient(database, 'One format')
  await bring(actor, ofx)
  const later = ofx
    .replaceAll(/<STMTTRN>.*\n/g, '')
    .replace('</BANKTRANLIST>', '<STMTTRN><DTPOSTED>20260402<TRNAMT>-5.00<FITID>X9<NAME>CLAY</STMTTRN></BANKTRANLIST>')
  expect(await bring(actor, later)).toMatchObject({ added: 1 })
})

it('an account whose number nobody has said is named, and nothing stays', async () => {
  const actor = await makeClient(database, 'Unknown number')
  await expect(bring(actor, mt940.replace('IE00TEST', 'IE29SKMU99007712344471'))).rejects.toMatchObject({
    faults: expect.arrayContaining([
      expect.objectContaining({ code: 'unknown_account', value: 'IE29SKMU99007712344471' }),
    ]),
  })
  expect(await stored(actor)).toEqual([])
  expect(await statements(actor)).toEqual([])
})

it('columns of its own are read once somebody has said them, with the balances that stand beside', async () => {
  const actor = await makeClient(database, 'Bank columns')
  const header = ['Date', 'Details', 'Amount', 'Balance']
  const rows = [
    ['22/04/2026', 'CARD CLAY', '-5.00', '115.00'],
    ['21/04/2026', 'OPENHALL 1', '20.00', '120.00'],
  ]
  const text = [header, ...rows].map(one => one.join(',')).join('\n')
  await expect(bring(actor, text)).rejects.toMatchObject({ faults: [{ code: 'unknown_head' }] })
  const { columns, ...choice } = proposeBankChoice(header, rows).choice
  await saveColumns(database, actor, {
    ...{ subject: 'account', key: '1000', header },
    said: {
      of: 'bank',
      choice: { ...choice, columns: [...columns], currency: 'EUR', account: '1000' },
      encoding: null,
      sheet: null,
    },
  })
  expect(await bring(actor, text, { account: '1000' })).toMatchObject({ added: 2 })
  expect(await statements(actor)).toMatchObject([{ format: 'columns', opening: 10_000, closing: 11_500 }])
})

it('text that is not in the encoding that the file declares is refused', async () => {
  const actor = await makeClient(database, 'Wrong encoding')
  await expect(bring(actor, Buffer.from(camt.replace('ISO-8859-1', 'UTF-8'), 'latin1'))).rejects.toMatchObject({
    faults: [{ code: 'not_utf8' }],
  })
})

it('a bank account without a statement has a page that can be read', async () => {
  const actor = await makeClient(database, 'No statement yet')
  const page = await asClient(database, actor, tx => loadBankPage(tx, '1000', { from: null, to: null }))
  expect(bankPage.parse(JSON.parse(JSON.stringify(page)))).toMatchObject({ statementTo: null, lines: [] })
})

describe('what a later statement corrects, and a number that is tied', () => {
  const corrected = (action: string, id: string) =>
    ofx.replace(
      /<STMTTRN>[\s\S]*<\/BANKTRANLIST>/,
      `<STMTTRN><DTPOSTED>20260401<TRNAMT>21.00<FITID>Y1<CORRECTFITID>${id}<CORRECTACTION>${action}<NAME>OPENHALL 1</STMTTRN></BANKTRANLIST>`,
    )
  const amounts = async (actor: Actor) => (await stored(actor)).map(line => line.amount)
  it('replaces or deletes a stored line while nothing is decided about it', async () => {
    for (const [action, left] of [
      ['REPLACE', [2100, -500, -500]],
      ['DELETE', [-500, -500]],
    ] as const) {
      const actor = await makeClient(database, `Corrected by ${action}`)
      await bring(actor, ofx)
      await bring(actor, corrected(action, 'X1'))
      expect(await amounts(actor)).toEqual(left)
    }
  })
  it('keeps the number of an account only where its statement came in', async () => {
    const actor = await makeClient(database, 'A number tied')
    await asClient(database, actor, tx =>
      tx.execute(sql`UPDATE account SET bank_number = NULL WHERE client_id = current_client()`),
    )
    const numberOf = async () =>
      (
        await asClient(database, actor, tx =>
          rowsOf(tx, { number: is.maybe(is.text) }, sql`SELECT bank_number AS number FROM account WHERE code = '1000'`),
        )
      )[0]?.number
    const told = { account: '1000', number: 'IE00TEST' }
    await expect(bring(actor, mt940.replaceAll('EUR', 'PLN'), told)).rejects.toMatchObject({ count: 3 })
    expect(await numberOf()).toBeNull()
    await bring(actor, mt940, told)
    expect(await numberOf()).toBe('IE00TEST')
    await expect(bring(actor, mt940, { ...told, number: 'OTHER' })).rejects.toMatchObject({ code: 'bank_number_other' })
  })
})

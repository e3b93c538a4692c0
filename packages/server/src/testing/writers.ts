import { type PaymentDecision, taxCodeRow, taxRowBody, type WantedAct } from '@culvert/contract'
import { activityColumns, type DateBasis, defaultOptions, FaultList, readActivityRow, readColumns } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { ensurePerson } from '../access/practice.ts'
import { countsBy } from '../activity/countsBy.ts'
import type { SettlementKey } from '../activity/settlementKey.ts'
import { codeLine } from '../bank/codeLine.ts'
import { confirmCertain } from '../bank/confirmPairings.ts'
import { setAsideItems } from '../bank/setAsideItems.ts'
import { takeStatementBack } from '../bank/takeStatementBack.ts'
import { undoPairings } from '../bank/undoPairings.ts'
import { postOpening, undoOpening } from '../books/openingBalances.ts'
import { saveRates } from '../books/saveRates.ts'
import { setLocked } from '../close/loadClose.ts'
import { follow } from '../composing/follow.ts'
import { openStore } from '../composing/storeActivity.ts'
import { askConsent, giveConsent } from '../consents/consents.ts'
import { type Actor, asClient, type Database, rowsOf } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { saveRoutes } from '../mapping/saveRoutes.ts'
import { saveRules } from '../mapping/saveRules.ts'
import { saveTaxCodes } from '../mapping/saveTaxCodes.ts'
import { saveTaxRows } from '../mapping/saveTaxRows.ts'
import { addNote, answerNote, closeQuestion } from '../notes/askNotes.ts'
import { decidePayments } from '../payments/decidePayments.ts'
import { loadTieOut } from '../payments/loadTieOut.ts'
import { saveLabels } from '../payments/saveLabels.ts'
import { undoPayments } from '../payments/undoPayments.ts'
import { bookCorrection } from '../settlements/bookCorrection.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { setAside, takeUp } from '../settlements/setAside.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { setPersonalScope } from '../sources/personalData.ts'
import { saveOptions } from '../sources/sourceOptions.ts'
import { takeImportBack } from '../sources/takeImportBack.ts'
import { consentables, monthChecks } from '../stages.ts'
import {
  addShop,
  csvOf,
  importBankRows,
  makeClientWithWeeks,
  type Row,
  settlementKeys,
  upload,
  type Weeks,
} from './madeClient.ts'

/** Everything that writes to a client's books, as it is done from outside; `turn` makes each time a little different. */
export type Writer = (at: WriterPlace, turn: number) => Promise<unknown>

/** A client to write to, and by which of the processes. */
export interface WriterPlace {
  readonly database: Database
  readonly actor: Actor
  readonly weeks: Weeks
}

const keysOf = (at: WriterPlace): Promise<SettlementKey[]> => settlementKeys(at.database, at.actor)
/** Rows of activity.csv as lines. */
export const linesOf = (rows: readonly Row[], dateBasis: DateBasis) => {
  const faults = new FaultList()
  const columns = readColumns(Object.keys(rows[0] ?? {}), activityColumns, faults)
  return rows.map(row => {
    const line = readActivityRow(Object.values(row), { columns, source: 'openhall', row: 1, faults, dateBasis })
    if (!line) throw new Error('a made line is not read')
    return line
  })
}
const someOf = <Row>(rows: readonly Row[], turn: number): Row[] => rows.filter((_, place) => (place + turn) % 3 !== 0)
const openLine = async ({ database, actor }: WriterPlace, turn: number): Promise<string | undefined> => {
  const rows = await asClient(database, actor, tx =>
    rowsOf(
      tx,
      { id: is.text },
      sql`SELECT line_id AS id FROM open_bank_line WHERE client_id = current_client() ORDER BY line_id DESC LIMIT 6`,
    ),
  )
  return rows[turn % Math.max(1, rows.length)]?.id
}

/** Somebody else who may ask, of the same client. */
const secondOf = async ({ database, actor }: WriterPlace): Promise<Actor> => {
  const userId = await ensurePerson(database, { email: 'second@ternandtally.example', name: 'Second', role: 'junior' })
  await asClient(database, actor, tx =>
    tx.execute(
      sql`INSERT INTO membership (client_id, user_id, role) VALUES (${actor.clientId}, ${userId}, 'junior') ON CONFLICT DO NOTHING`,
    ),
  )
  return { userId, clientId: actor.clientId }
}
export const unsent = { mail: () => Promise.resolve(false), origin: 'http://127.0.0.1' }

export const writers: Readonly<Record<string, Writer>> = {
  post: async (at, turn) => postSettlements(at.database, at.actor, someOf(await keysOf(at), turn)),
  'take back': async (at, turn) => takeBack(at.database, at.actor, someOf(await keysOf(at), turn + 1)),
  'pull or upload': async (at, turn) => {
    const changed = at.weeks.lines.map((row, place) =>
      place % 7 === turn % 7 && row.kind === 'sale' ? { ...row, amount: (Number(row.amount) + turn).toFixed(2) } : row,
    )
    return upload(at.database, at.actor, csvOf(changed))
  },
  // As a pull does: each step stores and marks, and what rests on them follows at the end.
  'steps of a pull': async (at, turn) => {
    for (const part of [0, 1]) {
      const changed = at.weeks.lines.flatMap((row, place) =>
        place % 5 === turn % 5 && place % 2 === part && row.kind === 'sale'
          ? [{ ...row, amount: (Number(row.amount) + turn + part).toFixed(2) }]
          : [],
      )
      await retrying(() =>
        asClient(at.database, at.actor, async tx => {
          const client = await loadSetup(tx)
          const by = countsBy(client.setup.sources.get('openhall')?.options ?? {})
          const store = openStore(tx, { source: 'openhall', by, client })
          for (const line of linesOf(changed, by.dateBasis)) await store.add(line)
          return store.finish('later')
        }),
      )
    }
    await follow(at.database, at.actor)
  },
  'take an import back': async at => {
    const [file] = await latestFile(at, 'upload')
    if (file) await takeImportBack(at.database, at.actor, { source: file.subject, jobId: file.jobId })
  },
  'bring a statement, take it back': async (at, turn) => {
    await importBankRows(at.database, at.actor, [stranger(`T-${turn}`, '2026-01-21', 3 + (turn % 40))])
    const [file] = await latestFile(at, 'statement')
    if (file) await takeStatementBack(at.database, at.actor, file.jobId)
  },
  'upload of heads': (at, turn) =>
    upload(
      at.database,
      at.actor,
      csvOf(at.weeks.heads.map(row => ({ ...row, payout_reference: `R-${turn}-${row.settlement_id}` }))),
      'settlements.csv',
    ),
  'save routes': async (at, turn) => {
    const { id } = (
      await asClient(at.database, at.actor, tx =>
        rowsOf(
          tx,
          { id: is.whole },
          sql`SELECT route_id AS id FROM route WHERE client_id = current_client() AND kind = 'shipping' AND sku IS NULL`,
        ),
      )
    )[0] as { id: number }
    const route = {
      kind: 'shipping',
      source: null,
      category: null,
      sku: null,
      location: null,
      gateway: null,
      method: null,
      region: null,
    } as const
    return saveRoutes(at.database, at.actor, {
      changed: [
        {
          ...route,
          routeId: id,
          taxLabel: null,
          from: null,
          account: turn % 2 === 0 ? '4000' : '4100',
          item: null,
          elsewhere: false,
          taxCode: 'S23',
          segments: {},
          block: false,
          reason: '',
        },
      ],
      removed: [],
    })
  },
  'save rules': (at, turn) =>
    saveRules(
      at.database,
      at.actor,
      turn % 2 === 0
        ? []
        : [{ id: 1, conditions: [{ field: 'orderId', is: 'equal', value: '3-1' }], actions: [{ set: 'block' }] }],
    ),
  'save rates': (at, turn) =>
    saveRates(at.database, at.actor, [{ date: '2026-01-01', from: 'USD', to: 'EUR', rate: `0.9${turn % 10}` }]),
  'save tax': (at, turn) =>
    saveTaxCodes(at.database, at.actor, [
      taxCodeRow.parse({
        code: 'S23',
        name: `VAT ${turn}`,
        basis: 'inclusive',
        use: 'sales',
        reverseCharge: false,
        components: [
          {
            name: 'VAT',
            account: '2200',
            inputAccount: null,
            compound: false,
            rates: [{ from: '2020-01-01', percent: '23' }],
          },
        ],
      }),
    ]),
  'save tax rows': (at, turn) =>
    saveTaxRows(at.database, at.actor, {
      rows: [{ code: 'S23' }, { region: 'DE', code: turn % 2 === 0 ? 'S23' : null }].map(row => taxRowBody.parse(row)),
      classes: turn % 3 === 0 ? [{ sku: null, category: 'Books', class: 'books' }] : [],
      byRows: true,
    }),
  'save options': (at, turn) =>
    saveOptions(at.database, at.actor, {
      source: 'openhall',
      options: {
        ...defaultOptions,
        detail: [],
        ancillaryFollows: turn % 3 === 0,
        refundFollows: turn % 2 === 0,
        place: turn % 3 === 1 ? 'IE' : null,
        dateBasis: turn % 2 === 0 ? 'order' : 'first',
        cutOff: turn % 5 === 0 ? '04:30' : null,
        bookedFrom: turn % 4 === 1 ? '2026-01-19' : null,
      },
    }),
  'opening balances': at =>
    postOpening(at.database, at.actor, {
      date: '2025-12-31',
      lines: [
        { account: '1000', amount: 5000 },
        { account: '2200', amount: -5000 },
      ],
    }).catch(error => {
      if (isAnswer(error)) return undoOpening(at.database, at.actor)
      throw error
    }),
  'ask for consent, and give it': async (at, turn) => {
    const second = await secondOf(at)
    const [key] = someOf(await keysOf(at), turn)
    if (!key) return
    const wanted: WantedAct = { sort: turn % 2 === 0 ? 'post' : 'take_back', keys: [key] }
    const { consentId } = await askConsent(at.database, consentables, second, { wanted })
    await giveConsent(at.database, consentables, at.actor, consentId)
  },
  'ask and answer': async (at, turn) => {
    const second = await secondOf(at)
    const { noteId } = await addNote(at.database, at.actor, unsent, {
      ...{ subject: 'source', key: 'openhall', title: 'Openhall', link: '/sources/openhall' },
      text: `asked ${turn}`,
      ask: { who: 'person', person: second.userId },
    })
    await answerNote(at.database, second, { noteId, text: 'answered' })
    await closeQuestion(at.database, at.actor, noteId)
  },
  'keep less of customers': (at, turn) =>
    setPersonalScope(at.database, at.actor, { source: 'openhall', scope: turn % 2 === 0 ? 'name' : 'all' }),
  'save labels': (at, turn) =>
    saveLabels(at.database, at.actor, turn % 2 === 0 ? [] : [{ label: 'card', source: 'brookpay' }]),
  'decide payments': async (at, turn) => {
    const { items } = await asClient(at.database, at.actor, loadTieOut)
    const chosen = items.filter((_, place) => (place + turn) % 3 === 0).slice(0, 2)
    if (chosen.length === 0) return
    await decidePayments(
      at.database,
      at.actor,
      chosen.map(({ decide, amount, candidates, acts, hindered }) => {
        const [to] = candidates
        const decision: PaymentDecision =
          to && turn % 2 === 0
            ? { as: 'attached', to: { source: to.source, lineId: to.lineId } }
            : acts.includes('gift') && hindered === null
              ? { as: 'gift', account: '6000' }
              : { as: 'set_aside' }
        return { of: decide, amount, decision, note: 'tried' }
      }),
    )
  },
  'undo payments': async (at, turn) => {
    const { decided } = await asClient(at.database, at.actor, loadTieOut)
    const chosen = decided.filter((_, place) => (place + turn) % 2 === 0).slice(0, 3)
    if (chosen.length > 0)
      await undoPayments(
        at.database,
        at.actor,
        chosen.map(({ line: { source, lineId } }) => ({ source, lineId })),
      )
  },
  'confirm deposits': at => confirmCertain(at.database, at.actor, '1000'),
  'take apart': async at => {
    const rows = await asClient(at.database, at.actor, tx =>
      rowsOf(
        tx,
        { id: is.text },
        sql`SELECT pairing_id AS id FROM pairing WHERE client_id = current_client() AND undone_by IS NULL ORDER BY pairing_id LIMIT 4`,
      ),
    )
    return undoPairings(
      at.database,
      at.actor,
      rows.map(row => row.id),
    )
  },
  'code a line': async (at, turn) => {
    const bankLine = await openLine(at, turn)
    if (bankLine)
      await codeLine(at.database, at.actor, { account: '1000', bankLine, to: '6000', taxCode: null, memo: '' })
  },
  'set a line aside': async (at, turn) => {
    const line = await openLine(at, turn + 1)
    if (line)
      await setAsideItems(at.database, at.actor, { account: '1000', transfers: [], bankLines: [line], reason: 'tried' })
  },
  'lock a month': (at, turn) =>
    setLocked(at.database, at.actor, { month: '2026-01', locked: turn % 2 === 0, reason: 'tried' }, monthChecks),
  'set aside': async (at, turn) => setAside(at.database, at.actor, someOf(await keysOf(at), turn + 2), 'tried'),
  'take up': async at => takeUp(at.database, at.actor, await keysOf(at)),
  correct: async at => {
    for (const key of await keysOf(at)) await bookCorrection(at.database, at.actor, key)
  },
}

const latestFile = (at: WriterPlace, sort: 'upload' | 'statement') =>
  asClient(at.database, at.actor, tx =>
    rowsOf(
      tx,
      { subject: is.text, jobId: is.text },
      sql`SELECT subject, job_id AS "jobId" FROM job WHERE sort = ${sort} AND state = 'done' AND taken_back_at IS NULL ORDER BY ordinal DESC LIMIT 1`,
    ),
  )

const stranger = (line_id: string, date: string, amount: number): Row => ({
  ...{
    line_id,
    date,
    bank_account: '1000',
    amount: `-${amount}.00`,
    currency: 'EUR',
    description: 'RENT',
    reference: '',
  },
})

const paid = (line_id: string, kind: string, amount: string, day: number, more: Row): Row => ({
  line_id,
  occurred_at: `2026-01-${String(day).padStart(2, '0')}T10:00:00Z`,
  kind,
  currency: 'EUR',
  amount,
  ...more,
})
// Of three orders one is collected under its number, one under another's, and one never; some of them by a label that comes to be another's.
const orders: readonly Row[] = Array.from({ length: 12 }, (_, at) => [
  paid(`S-${at}-s`, 'sale', `${20 + at}.00`, 5 + at, { order_id: `S-${at}` }),
  paid(`S-${at}-t`, 'tender', `-${20 + at}.00`, 5 + at, {
    order_id: `S-${at}`,
    gateway: at % 4 === 0 ? 'card' : 'brookpay',
  }),
]).flat()
const collections: readonly Row[] = Array.from({ length: 12 }, (_, at) =>
  at % 3 === 2
    ? []
    : [paid(`S-${at}-c`, 'collected', `${20 + at}.00`, 6 + at, { order_id: at % 3 === 0 ? `S-${at}` : `S-9${at}` })],
).flat()

/** A client with weeks, a shop with orders of which some are on one side only, and a deposit for each payout beside bank lines of strangers: what all writers can be let loose on. */
export const makeRacedClient = async (database: Database, name: string): Promise<WriterPlace> => {
  const made = await makeClientWithWeeks(database, name, 6, 3)
  await addShop(database, made.actor)
  await upload(database, made.actor, csvOf(orders), 'activity.csv', 'fernstall')
  await upload(database, made.actor, csvOf(collections), 'activity.csv', 'brookpay')
  const lines: Row[] = made.weeks.lines
    .filter(row => row.kind === 'payout')
    .map((row, place) => ({
      line_id: `B-${place}`,
      date: `2026-0${place < 3 ? 1 : 2}-${String(place < 3 ? 14 + 7 * place : 4 + 7 * (place - 3)).padStart(2, '0')}`,
      bank_account: '1000',
      amount: (-Number(row.amount)).toFixed(2),
      currency: 'EUR',
      description: `OPENHALL SETTL ${row.settlement_id}`,
      reference: '',
    }))
  const strangers = Array.from({ length: 12 }, (_, place) => stranger(`X-${place}`, '2026-01-20', 10 + place))
  await importBankRows(database, made.actor, [...lines, ...strangers])
  return { database, actor: made.actor, weeks: made.weeks }
}

/** Failures that are answers, not faults: what somebody else did first. */
export const isAnswer = (error: unknown): boolean => error instanceof Error && error.name === 'Refused'

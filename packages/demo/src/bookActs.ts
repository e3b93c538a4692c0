import { endpoints } from '@culvert/contract'
import { call } from './asking.ts'
import { practiceLogin } from './services.ts'
import { type TaxPayment, taxBankLines } from './taxPayments.ts'

// What a bookkeeper does, done for the demo: by the same endpoints.

/** Lets the application see a service, as the practice's login: what its consent page would send back is taken from there. Its grant. */
export const grant = async (client: number, service: string): Promise<string> => {
  const { grantId, address } = await call(endpoints.askGrant, { client, body: { service, personalData: 'all' } })
  const form = new URL(address).searchParams
  form.set('login', practiceLogin)
  form.set('decision', 'grant')
  form.set('buyers', 'yes')
  const response = await fetch(address.split('?')[0] ?? '', { method: 'POST', body: form, redirect: 'manual' })
  const back = new URL(response.headers.get('location') ?? '').searchParams
  await call(endpoints.completeGrant, { client, body: { state: back.get('state'), code: back.get('code') } })
  return grantId
}

/** What was paid to tax offices is what the ledger says was owed. @throws Error naming what it should be */
export const heldAgainstLedger = async (client: number, payments: readonly TaxPayment[]): Promise<void> => {
  const paid = new Map<string, number>()
  const wrong: string[] = []
  for (const { agency, to, text, accounts: owedOn, amount } of payments) {
    let owed = -(paid.get(agency) ?? 0)
    for (const one of owedOn) {
      const { closing } = await call(endpoints.register, { client, params: { account: one }, query: { to } })
      owed -= closing
    }
    paid.set(agency, (paid.get(agency) ?? 0) + owed)
    if (owed !== amount) wrong.push(`${text}: ${owed}`)
  }
  if (wrong.length > 0)
    throw new Error(`the ledger says otherwise of what was paid to tax offices: ${wrong.join(', ')}`)
}

/** Codes what was paid to tax offices, and marks the periods as filed. */
export const payTaxes = async (
  client: number,
  payments: readonly TaxPayment[],
  { bank, prefix }: { readonly bank: string; readonly prefix: string },
): Promise<void> => {
  const lines = taxBankLines(payments, { prefix, account: '', currency: 'EUR' })
  for (const [index, { agency, from, to, on, accounts: owedOn }] of payments.entries()) {
    await call(endpoints.code, {
      client,
      params: { account: bank },
      body: {
        bankLine: lines[index]?.line_id ?? '',
        account: owedOn[0] ?? '',
        taxCode: null,
        memo: `${from} to ${to}`,
      },
    })
    await call(endpoints.fileTax, { client, body: { agency, from, to, filedOn: on } })
  }
}

/** Confirms what is certain, and what is so once that is confirmed. */
export const confirmCertain = async (client: number, account: string): Promise<void> => {
  for (;;) {
    const { confirmed } = await call(endpoints.confirmCertain, { client, params: { account } })
    if (confirmed === 0) return
  }
}

/** Posts every settlement that is proposed and dated up to a day, of one source or of all. */
export const postUpTo = async (client: number, date: string, source?: string): Promise<void> => {
  const { rows } = await call(endpoints.settlements, { client, query: { limit: 1000, to: date, source } })
  const keys = rows
    .filter(row => row.state === 'proposed')
    .map(({ source, key, currency }) => ({ source, key, currency }))
  await call(endpoints.post, { client, body: { keys } })
}

/** Confirms what fits and is not certain, such as equal amounts within a month: whoever looks at them sees by their numbers that they are right. */
export const confirmLikely = async (client: number, account: string): Promise<void> => {
  const { proposals } = await call(endpoints.proposals, { client, params: { account } })
  const groups = proposals
    .filter(({ sureness }) => sureness === 'likely')
    .map(({ transfers, bankLines }) => ({
      transfers: transfers.map(one => one.id),
      bankLines: bankLines.map(one => one.id),
    }))
  if (groups.length > 0) await call(endpoints.confirm, { client, body: { account, groups } })
}

/** Codes all bank lines of an account that read so. */
export const codeAll = async (
  client: number,
  bank: string,
  coded: readonly { readonly text: string | RegExp; readonly account: string }[],
): Promise<void> => {
  const { lines } = await call(endpoints.bank, { client, params: { account: bank } })
  for (const line of lines) {
    const to = coded.find(({ text }) =>
      typeof text === 'string' ? line.description === text : text.test(line.description),
    )
    if (to)
      await call(endpoints.code, {
        client,
        params: { account: bank },
        body: { bankLine: line.id, account: to.account, taxCode: null, memo: '' },
      })
  }
}

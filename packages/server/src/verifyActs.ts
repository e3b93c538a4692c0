import type { SealCheck } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { checkSeals, type KnownSeal } from './acts/checkSeals.ts'
import { checkPracticeSeals } from './acts/practiceActs.ts'
import { clientsInTurn } from './clientsInTurn.ts'
import { asPerson, connect, rowsOf } from './database/connect.ts'
import { applicationUrl } from './database/prepare.ts'
import { is } from './database/rows.ts'

/**
 * Works out the seals of all acts anew, of every client and of the practice. Arguments are seals that were written down elsewhere, as CLIENT:SEQ:SEAL: the chain
 * must still go through them. Ends with 1 where anything is wrong.
 */
const url = process.env.DATABASE_URL
if (!url) throw new Error('DATABASE_URL is not set')
process.env.APP_DATABASE_URL ??= applicationUrl(url)
const known = new Map<number, KnownSeal[]>()
for (const argument of process.argv.slice(2)) {
  const [, client, seq, seal] = /^(\d+):(\d+):([0-9a-f]{64})$/.exec(argument) ?? []
  if (client === undefined || seq === undefined || seal === undefined)
    throw new Error(`${argument} is no seal; write CLIENT:SEQ:SEAL`)
  known.set(Number(client), [...(known.get(Number(client)) ?? []), { seq: Number(seq), seal }])
}
const database = connect(url, 2)
let faults = 0
const tell = (of: string, check: SealCheck): void => {
  if (check.acts === 0 && check.faults.length === 0) return
  const last = check.last ? `, the last ${check.last.seq}:${check.last.seal}` : ''
  console.log(`${of}: ${check.acts} acts${last}`)
  for (const { seq, actId, what } of check.faults)
    console.log(`  ${what.replaceAll('_', ' ')}${seq > 0 ? ` at ${seq}` : ''}${actId ? `, act ${actId}` : ''}`)
  faults += check.faults.length
}
await clientsInTurn(database, async (tx, clientId) => {
  tell(`client ${clientId}`, await checkSeals(tx, clientId, known.get(clientId)))
})
await asPerson(database, 0, async tx => {
  for (const { id } of await rowsOf(tx, { id: is.whole }, sql`SELECT practice_id AS id FROM practice ORDER BY 1`))
    tell(`practice ${id}`, await checkPracticeSeals(tx, id))
})
await database.$client.end()
console.log(faults === 0 ? 'every seal is right' : `${faults} faults`)
process.exit(faults === 0 ? 0 : 1)

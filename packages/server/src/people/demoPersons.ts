import type { SignInChoices } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { hashPassword } from '../access/identity.ts'
import { ensurePerson } from '../access/practice.ts'
import { asPerson, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { keepPassword } from './invitations.ts'

/** The made-up people of the demo, each with the password that its page for signing in shows. */
export const demoPersons: SignInChoices['demo'] = [
  { name: 'Orla Quill', email: 'orla.quill@ternandtally.example', password: 'six-kilns-by-the-lane', role: 'owner' },
  { name: 'Ben Aster', email: 'ben.aster@ternandtally.example', password: 'three-cogs-and-a-whistle', role: 'junior' },
  {
    name: 'Mina Dorset',
    email: 'mina.dorset@ternandtally.example',
    password: 'larkwool-in-eight-plies',
    role: 'accountant',
  },
]

/**
 * Makes the people of the demo known, where they are not. @throws Error where others sign in and none of these does: their passwords are known to everybody,
 * and would open books that are somebody's
 */
export const ensureDemoPersons = async (database: Database): Promise<void> => {
  const [others] = await asPerson(database, 0, tx =>
    rowsOf(
      tx,
      { known: is.whole },
      sql`SELECT count(*) FILTER (WHERE email LIKE '%@ternandtally.example')::int AS known FROM auth."user" HAVING count(*) > 0`,
    ),
  )
  if (others?.known === 0) throw new Error('CULVERT_DEMO is set where others sign in: the demo’s people are not made')
  for (const { name, email, password, role } of demoPersons) {
    const userId = await ensurePerson(database, { name, email, role, practice: 'Tern & Tally' })
    const kept = await hashPassword(password)
    await asPerson(database, 0, async tx => {
      await tx.execute(sql`SELECT pg_advisory_xact_lock(hashtext('culvert practice'))`)
      const [known] = await rowsOf(tx, {}, sql`SELECT FROM auth."user" WHERE email = ${email}`)
      if (!known) await keepPassword(tx, { userId, email, name, kept })
    })
  }
}

import type { proofAnswerBody } from '@culvert/contract'
import { subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'

type Answer = z.output<typeof proofAnswerBody>

/** Keeps what somebody says of a day, a statement or an order that a proof names; an answer that stands gives way to the new one. @throws Refused */
export const answerProof = (database: Database, actor: Actor, answer: Answer): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const { source, about, name, reason, until } = answer
      const [held] = await holdSources(tx, [source], 'read')
      if (!held) throw new Refused('source_unknown', { source })
      const actId = await recordAct(tx, actor, {
        sort: 'answer_proof',
        note: `${about} ${name}: ${reason}`,
        touched: [{ subject: 'source', key: subjectKey(source), after: { about, name, reason, until: until ?? null } }],
      })
      await tx.execute(sql`UPDATE proof_answer SET undone_by = ${actId} WHERE client_id = current_client() AND source = ${source}
        AND about = ${about} AND name = ${name} AND undone_by IS NULL`)
      await tx.execute(sql`INSERT INTO proof_answer (client_id, source, about, name, reason, until, act_id)
        VALUES (current_client(), ${source}, ${about}, ${name}, ${reason}, ${until ?? null}, ${actId})`)
      await markStages(tx, ['clearing', 'close'])
    }),
  )

/** Withdraws an answer. @throws Refused where none stands */
export const undoProofAnswer = (
  database: Database,
  actor: Actor,
  { source, about, name }: Pick<Answer, 'source' | 'about' | 'name'>,
): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      await holdSources(tx, [source], 'read')
      const actId = await recordAct(tx, actor, {
        sort: 'undo_proof_answer',
        note: `${about} ${name}`,
        touched: [{ subject: 'source', key: subjectKey(source), before: { about, name }, after: null }],
      })
      const undone = await rowsOf(
        tx,
        {},
        sql`UPDATE proof_answer SET undone_by = ${actId} WHERE client_id = current_client() AND source = ${source}
          AND about = ${about} AND name = ${name} AND undone_by IS NULL RETURNING name`,
      )
      if (undone.length === 0) throw new Refused('nothing_decided')
      await markStages(tx, ['clearing', 'close'])
    }),
  )

import { endpoints } from '@culvert/contract'
import { Router } from 'express'
import { inTurn, receiveFile } from '../access/receiveFile.ts'
import { serve } from '../access/serve.ts'
import { asClient, type Database } from '../database/connect.ts'
import { saveColumns } from './columns.ts'
import { lookAtFile } from './lookAtFile.ts'

/** Files of any shape: what they are, and what their columns mean. */
export const fileRoutes = (database: Database): Router => {
  const router = Router()
  serve(router, endpoints.lookAtFile, async ({ actor, query, request }) => {
    const file = await receiveFile(request)
    try {
      const { subject, key, encoding = null, sheet = null, as = null } = query
      const of = subject === 'none' ? null : { subject, key }
      return await inTurn(() =>
        asClient(database, actor, tx => lookAtFile(tx, { open: file.open, of, encoding, sheet, as })),
      )
    } finally {
      await file.dispose()
    }
  })
  serve(router, endpoints.saveColumns, async ({ actor, body }) => {
    await saveColumns(database, actor, body)
    return {}
  })
  return router
}

import type { FileLook } from '@culvert/contract'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { holdFile } from '../context/heldFile.ts'
import { RequestRefused } from '../context/request.ts'
import { useNotice } from '../ui/Notice.tsx'
import { statementText, uploadedText } from './broughtText.ts'
import { type FileOf, lookAt, type Told, useFileActs } from './fileQueries.ts'

/** A statement of an account that nobody has said the number of yet. */
export interface UnknownAccount {
  readonly number: string
  /** Of its lines; null: not known. */
  readonly currency: string | null
  readonly file: File
}

/** Which account a number is the bank's own of: kept once a statement of it is in. */
export interface NumberOfAccount {
  readonly number: string
  readonly account: string
}

/** The first number of an account that a refusal says is not known. */
const unknownNumber = (error: unknown): Omit<UnknownAccount, 'file'> | null => {
  if (!(error instanceof RequestRefused)) return null
  const fault = error.problem.faults?.find(one => one.code === 'unknown_account')
  return fault ? { number: fault.value, currency: fault.currency ?? null } : null
}

/**
 * Brings in files, whatever they are: each is looked at first. One whose columns nobody has said the meaning of opens the page where that is said; a statement goes to the
 * bank from wherever it was dropped.
 */
export const useBring = (of: FileOf | null) => {
  const { clientId } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const notice = useNotice()
  const acts = useFileActs(clientId)
  const [looking, setLooking] = useState(false)
  const [unknown, setUnknown] = useState<UnknownAccount | null>(null)

  const openColumns = (file: File, subject: FileOf['subject'], key: string): null => {
    holdFile(file)
    void navigate(href(`/files/${subject}/${encodeURIComponent(key)}`))
    return null
  }

  const statement = async (
    file: File,
    told: Told & { account?: string | null; number?: string },
  ): Promise<string | null> => {
    try {
      const outcome = await acts.statement.mutateAsync({ file, told })
      return outcome && statementText(file.name, outcome)
    } catch (error) {
      const found = unknownNumber(error)
      if (found === null) throw error
      setUnknown({ ...found, file })
      return null
    }
  }

  const one = async (file: File, tie: NumberOfAccount | null): Promise<string | null> => {
    const look = await lookAt(clientId, file, of ?? {})
    const told = toldOf(look)
    if (look.sort === 'unknown')
      throw new Error(`${file.name} is nothing that Culvert reads: tables (CSV, XLSX) and bank statements are.`)
    if (look.encodings.length > 0 && look.saved === null)
      return openColumns(file, of?.subject ?? 'account', of?.key ?? '-')
    if (look.sort === 'table' && look.saved === null && (of !== null || look.proposed?.said.of === 'bank'))
      return openColumns(file, of?.subject ?? 'account', of?.key ?? '-')
    if (look.sort === 'bank' || look.saved?.of === 'bank')
      return statement(file, { ...told, account: of?.subject === 'account' ? of.key : accountSaid(look), ...tie })
    if (of?.subject !== 'source')
      throw new Error(`${file.name} holds what a source reports: bring it in at its source.`)
    try {
      const outcome = await acts.activity.mutateAsync({ source: of.key, file, told })
      return outcome && uploadedText(file.name, outcome)
    } catch (error) {
      // A shape that is known with a row that cannot be read: there the row can be seen, and set aside.
      if (look.sort !== 'table' || !(error instanceof RequestRefused) || !error.problem.faults) throw error
      notice.refuse(error)
      return openColumns(file, 'source', of.key)
    }
  }

  const bring = async (files: readonly File[], tie: NumberOfAccount | null = null): Promise<void> => {
    setLooking(true)
    const said: string[] = []
    try {
      for (const file of files) {
        const text = await one(file, tie)
        if (text === null) break
        said.push(text)
      }
    } catch (error) {
      notice.refuse(error)
      return
    } finally {
      setLooking(false)
    }
    if (said.length > 0) notice.say(said.join(' '))
  }
  return { bring, busy: looking, unknown, forget: () => setUnknown(null) }
}

const toldOf = ({ saved }: FileLook): Told => ({ encoding: saved?.encoding ?? null, sheet: saved?.sheet ?? null })
const accountSaid = ({ saved }: FileLook): string | null => (saved?.of === 'bank' ? saved.choice.account : null)

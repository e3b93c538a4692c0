import {
  fileEndpoints as at,
  bankEndpoints as bank,
  type FileLook,
  type SavedColumns,
  sourceEndpoints as sources,
} from '@culvert/contract'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useJobs } from '../context/JobsContext.tsx'
import { call } from '../context/request.ts'

/** What a file is of. */
export interface FileOf {
  readonly subject: 'source' | 'account'
  readonly key: string
}

/** Said of a file that does not say it itself. */
export interface Told {
  readonly encoding?: string | null
  readonly sheet?: string | null
  /** What its rows are, where somebody says so. */
  readonly as?: 'activity' | 'settlements' | 'balances'
  /** Rows that are set aside, as the server takes them. */
  readonly aside?: string
}

export const lookAt = (clientId: number, file: File, asked: Partial<FileOf> & Told): Promise<FileLook> =>
  call(at.lookAtFile, { client: clientId, query: { name: file.name, ...asked }, file })

// What its rows are stands with its columns by then.
const atUpload = ({ as: _, ...told }: Told) => told

/** Bringing in files of any shape, and keeping what their columns mean. */
export const useFileActs = (clientId: number) => {
  const queries = useQueryClient()
  const through = useJobs()
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    keep: useMutation({
      mutationFn: (body: FileOf & { header: string[]; said: SavedColumns }) =>
        call(at.saveColumns, { client: clientId, body }),
    }),
    activity: useMutation({
      mutationFn: ({ source, file, told }: { source: string; file: File; told: Told }) =>
        through(sources.upload, {
          client: clientId,
          params: { source },
          query: { name: file.name, ...atUpload(told) },
          file,
        }),
      onSettled,
    }),
    statement: useMutation({
      mutationFn: ({ file, told }: { file: File; told: Told & { account?: string | null; number?: string } }) =>
        through(bank.uploadStatement, { client: clientId, query: { name: file.name, ...told }, file }),
      onSettled,
    }),
  }
}

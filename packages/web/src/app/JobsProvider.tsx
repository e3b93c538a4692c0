import { isUnderWay } from '@culvert/contract'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react'
import { JobsContext, loadJob, underWayQuery } from '../context/JobsContext.tsx'
import { RequestRefused } from '../context/request.ts'
import { useNotice } from '../ui/Notice.tsx'
import { overText } from './jobText.ts'

/** Waits for the jobs of a client, whoever began them and whichever page is open, and says of each what it came to. */
export const JobsProvider = ({ clientId, children }: { readonly clientId: number; readonly children: ReactNode }) => {
  const [waited, setWaited] = useState<ReadonlySet<string>>(new Set())
  const { data, dataUpdatedAt } = useQuery(underWayQuery(clientId, waited.size))
  const queries = useQueryClient()
  const notice = useNotice()
  const asked = useRef(new Set<string>())
  const value = useMemo(() => ({ follow: (jobId: string) => setWaited(before => new Set([...before, jobId])) }), [])
  useEffect(() => {
    // Looked at each time that it was asked, also when the answer is the same.
    if (dataUpdatedAt === 0) return
    const shown = new Set(data?.jobs.map(job => job.jobId) ?? [])
    const fresh = [...shown].filter(id => !waited.has(id))
    if (fresh.length > 0) setWaited(new Set([...waited, ...fresh]))
    for (const id of waited) {
      if (shown.has(id) || asked.current.has(id)) continue
      asked.current.add(id)
      void loadJob(clientId, id)
        .then(job => {
          if (isUnderWay(job.state)) return
          setWaited(before => new Set([...before].filter(one => one !== id)))
          const text = overText(job)
          if (job.state === 'failed')
            notice.tellOfJob(new RequestRefused(422, { ...job.refusal, error: text ?? job.message }))
          else if (text !== null) notice.tellOfJob(text)
          void queries.invalidateQueries({ queryKey: ['client', clientId] })
        })
        .catch(() => undefined)
        .finally(() => asked.current.delete(id))
    }
  }, [data, dataUpdatedAt, waited, clientId, notice, queries])
  return <JobsContext.Provider value={value}>{children}</JobsContext.Provider>
}

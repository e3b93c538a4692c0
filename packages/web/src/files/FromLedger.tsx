import { grantEndpoints } from '@culvert/contract'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { Act } from '../ui/Act.tsx'
import { useNotice } from '../ui/Notice.tsx'

/** Lists that an outside ledger tells. */
export type LedgerList = 'chart' | 'tax-codes' | 'contacts' | 'items' | 'opening' | 'invoices' | 'bills'

/** Brings a list over from the outside ledger that is linked, as if it were a file of it; nothing where none is. */
export const FromLedger = ({
  list,
  what,
  busy,
  onList,
}: {
  readonly list: LedgerList
  /** What it is called, where a page has several. */
  readonly what?: string | undefined
  readonly busy: boolean
  readonly onList: (file: File) => void
}) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { data } = useQuery({
    queryKey: ['client', clientId, 'ledger'],
    queryFn: () => call(grantEndpoints.ledger, { client: clientId }),
    staleTime: 60_000,
  })
  const ask = useMutation({
    mutationFn: () => call(grantEndpoints.ledgerList, { client: clientId, params: { list } }),
    onError: notice.refuse,
    onSuccess: ({ csv }) => onList(new File([csv], `${list}.csv`, { type: 'text/csv' })),
  })
  const link = data?.link
  if (!link || link.ended) return null
  return (
    <Act right="map" disabled={busy || ask.isPending} onClick={() => ask.mutate()}>
      {what ? `${what} from` : 'From'} {link.name}
    </Act>
  )
}

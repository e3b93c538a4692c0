import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { LinesBehind } from './LinesBehind.tsx'
import { taxLinesQuery } from './mappingQueries.ts'
import type { TaxLinesOf } from './taxPlaceText.ts'

interface TaxLinesProps {
  readonly month: string
  readonly of: TaxLinesOf
  readonly onClose: () => void
}

const noteOf = ({ code, charged }: TaxLinesOf): string => {
  if (code) return ' of settlements, tax within; what bank lines and decisions booked stands in the registers'
  if (charged) return charged.part === 'base' ? ', of each what tax is worked out on' : ', of each its tax'
  return ''
}

/** The lines behind one row of the tax check; of a line that is taxed in parts, the part. */
export const TaxLines = ({ month, of, onClose }: TaxLinesProps) => {
  const { clientId } = useClient()
  const query = useQuery(taxLinesQuery(clientId, month, of))
  return (
    <LinesBehind
      of={query}
      title={of.title}
      currency={of.currency}
      note={noteOf(of)}
      back="Back to the check"
      onClose={onClose}
    />
  )
}

import type { GridLinesBody } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { LinesBehind } from './LinesBehind.tsx'
import { gridLinesQuery } from './mappingQueries.ts'

/** Which lines of the grid are listed, and what they are called. */
export interface GridLinesOf {
  readonly title: string
  readonly asked: GridLinesBody
}

interface GridLinesProps {
  readonly of: GridLinesOf
  readonly currency: string
  readonly onClose: () => void
}

/** The lines of the last 13 weeks behind a sum of the tax grid. */
export const GridLines = ({ of, currency, onClose }: GridLinesProps) => {
  const { clientId } = useClient()
  const query = useQuery(gridLinesQuery(clientId, of.asked))
  return <LinesBehind of={query} title={of.title} currency={currency} back="Back to the grid" onClose={onClose} />
}

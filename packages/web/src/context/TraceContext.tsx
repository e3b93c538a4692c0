import type { TraceStart } from '@culvert/contract'
import { createContext, useContext } from 'react'

interface Tracing {
  readonly start: TraceStart | null
  open(start: TraceStart): void
  close(): void
}

export const TraceContext = createContext<Tracing>({ start: null, open: () => undefined, close: () => undefined })

/** Opens the trace of an amount in the panel at the right. */
export const useTrace = (): Tracing => useContext(TraceContext)

import { existsSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import type { OpenItems, ProposalList } from '@culvert/contract'
import { Piscina } from 'piscina'

// Built, the thread's code stands next to ours; else it is the source, which needs a loader.
const built = fileURLToPath(new URL('./pairingThread.js', import.meta.url))
const source = fileURLToPath(new URL('./pairing.worker.ts', import.meta.url))

let threads: Piscina<OpenItems, ProposalList> | null = null

/** At most so many threads pair side by side in a process; all but one end when there was nothing to pair for a while. */
const mostThreads = 2
const idleMs = 30_000

const theThreads = (): Piscina<OpenItems, ProposalList> => {
  const isBuilt = existsSync(built)
  threads ??= new Piscina<OpenItems, ProposalList>({
    filename: isBuilt ? built : source,
    execArgv: isBuilt ? [] : ['--import', 'tsx'],
    minThreads: 1,
    maxThreads: mostThreads,
    idleTimeout: idleMs,
  })
  return threads
}

/** Pairs what is open beside everything else: a large account takes a second, in which the process must answer others, and no transaction may stand open. */
export const pairBeside = (open: OpenItems, signal?: AbortSignal): Promise<ProposalList> =>
  theThreads().run(open, signal ? { signal } : {})

/** Starts a thread before it is asked for: whoever looks first would wait for its code to be loaded. */
export const startPairing = (): void => {
  theThreads()
}

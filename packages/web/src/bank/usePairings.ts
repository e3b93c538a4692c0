import type { BankPage, OpenItems, ProposalList } from '@culvert/contract'
import { keepPreviousData, useQuery } from '@tanstack/react-query'

interface Answer {
  readonly id: number
  readonly proposals?: ProposalList
  readonly error?: string
}

let worker: Worker | null = null
let lastId = 0
const waiting = new Map<number, (answer: Answer) => void>()

const theWorker = (): Worker => {
  if (worker) return worker
  worker = new Worker(new URL('./pairing.worker.ts', import.meta.url), { type: 'module' })
  worker.onmessage = ({ data }: MessageEvent<Answer>) => {
    waiting.get(data.id)?.(data)
    waiting.delete(data.id)
  }
  worker.onerror = event => {
    for (const [id, answer] of waiting) answer({ id, error: event.message || 'the pairing worker stopped' })
    waiting.clear()
    worker = null
  }
  return worker
}

const pair = (work: OpenItems): Promise<ProposalList> =>
  new Promise((resolve, reject) => {
    const id = ++lastId
    waiting.set(id, ({ proposals, error }) => (proposals ? resolve(proposals) : reject(new Error(error))))
    theWorker().postMessage({ id, work })
  })

/** Numbers each page's data: as a key it would be written out whole at every drawing, thousands of items long. */
const numbers = new WeakMap<BankPage, number>()
let lastNumber = 0
const numberOf = (page: BankPage): number => {
  const known = numbers.get(page)
  if (known !== undefined) return known
  numbers.set(page, ++lastNumber)
  return lastNumber
}

/** What fits what among a page's open items, worked out beside the page, so that the page stays quick. */
export const usePairings = (page: BankPage) =>
  useQuery({
    queryKey: ['pairings', numberOf(page)],
    queryFn: () => pair({ transfers: page.transfers, lines: page.lines, facts: page.facts }),
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    staleTime: Number.POSITIVE_INFINITY,
  })

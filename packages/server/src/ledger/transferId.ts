/** Names a transfer among all of a client's: its source, generation and payout line. */
export const transferId = (transfer: { source: string; generation: number; payout_line: string }): string =>
  `${transfer.source}/${transfer.generation}/${transfer.payout_line}`

/** The parts of a transfer's id; null if it is none. */
export const parseTransferId = (id: string): { source: string; generation: number; payoutLine: string } | null => {
  const match = /^([^/]+)\/(\d+)\/(.+)$/s.exec(id)
  return match ? { source: match[1] as string, generation: Number(match[2]), payoutLine: match[3] as string } : null
}

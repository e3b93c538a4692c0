import type { BankItem, BankPage, PairingRow, TransferItem } from '@culvert/contract'
import { addDays, daysBetween } from '@culvert/core'

export type TideTone = 'confirmed' | 'certain' | 'likely' | 'possible' | 'alone'

/** What a mark of the tide table stands for: a pairing, or an item that is alone. */
export interface TideGroup {
  readonly id: string
  readonly tone: TideTone
  readonly pairing: PairingRow | null
  readonly transfers: readonly TransferItem[]
  readonly bankLines: readonly BankItem[]
}

export interface TideMark<Item> {
  readonly item: Item
  readonly group: TideGroup
  /** Centre, pixels below the top of the table. */
  readonly y: number
}

export interface Tide {
  readonly days: readonly { readonly date: string; readonly top: number; readonly height: number }[]
  readonly left: readonly TideMark<TransferItem>[]
  readonly right: readonly TideMark<BankItem>[]
  readonly groups: readonly TideGroup[]
  readonly height: number
}

const lineHeight = 28

const groupOf = (pairing: PairingRow): TideGroup => ({
  id: pairing.pairingId ?? `${pairing.transfers[0]?.id} ${pairing.bankLines[0]?.id}`,
  tone: pairing.pairingId === null ? pairing.sureness : 'confirmed',
  pairing,
  transfers: pairing.transfers,
  bankLines: pairing.bankLines,
})

/** Places payouts at the left and deposits at the right on one axis of days, to scale. */
export const arrangeTide = (page: BankPage): Tide => {
  const groups: TideGroup[] = [
    ...[...page.confirmed, ...page.proposals].map(groupOf),
    ...page.transfersAlone.map(
      (transfer): TideGroup => ({
        id: transfer.id,
        tone: 'alone',
        pairing: null,
        transfers: [transfer],
        bankLines: [],
      }),
    ),
    ...page.linesAlone.map(
      (line): TideGroup => ({ id: line.id, tone: 'alone', pairing: null, transfers: [], bankLines: [line] }),
    ),
  ]
  const dates = groups.flatMap(group => [...group.transfers, ...group.bankLines].map(item => item.date))
  const from = dates.reduce((first, date) => (date < first ? date : first), page.from)
  const to = dates.reduce((last, date) => (date > last ? date : last), page.to)
  const leftByDay = byDay(groups.flatMap(group => group.transfers.map(item => ({ item, group }))))
  const rightByDay = byDay(groups.flatMap(group => group.bankLines.map(item => ({ item, group }))))
  const days: { date: string; top: number; height: number }[] = []
  const left: TideMark<TransferItem>[] = []
  const right: TideMark<BankItem>[] = []
  let top = 0
  for (let day = 0; day <= daysBetween(from, to); day++) {
    const date = addDays(from, day)
    const mineLeft = leftByDay.get(date) ?? []
    const mineRight = rightByDay.get(date) ?? []
    const height = lineHeight * Math.max(1, mineLeft.length, mineRight.length)
    for (const [index, mark] of mineLeft.entries()) left.push({ ...mark, y: top + lineHeight * (index + 0.5) })
    for (const [index, mark] of mineRight.entries()) right.push({ ...mark, y: top + lineHeight * (index + 0.5) })
    days.push({ date, top, height })
    top += height
  }
  const firstDate = (group: TideGroup): string =>
    [...group.transfers, ...group.bankLines].map(item => item.date).sort()[0] ?? ''
  return {
    days,
    left,
    right,
    height: top,
    groups: [...groups].sort((one, other) => (firstDate(one) < firstDate(other) ? -1 : 1)),
  }
}

const byDay = <Item extends { date: string }>(marks: readonly { item: Item; group: TideGroup }[]) => {
  const days = new Map<string, { item: Item; group: TideGroup }[]>()
  for (const mark of marks) {
    const list = days.get(mark.item.date)
    if (list) list.push(mark)
    else days.set(mark.item.date, [mark])
  }
  return days
}

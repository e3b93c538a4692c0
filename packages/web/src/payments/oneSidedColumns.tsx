import { Span } from '@chakra-ui/react'
import type { DecidePayments, OneSidedRow } from '@culvert/contract'
import type { useTrace } from '../context/TraceContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { evidenceText, hindranceText, isCollection } from './decisionText.ts'

const sortWords: Record<OneSidedRow['sort'], string> = {
  tender_not_collected: 'paid by the shop’s word, never collected',
  collected_without_order: 'collected, no order explains it',
  refund_not_paid: 'refund promised, not paid yet',
  refund_without_order: 'paid back, no order explains it',
  amount_differs: 'collected differs from the order',
}

/** A row's own key. */
export const keyOf = (row: OneSidedRow): string => `${row.sort} ${row.line.source} ${row.line.lineId}`

/** What both sides say of a payment, as the gateway signs it; null where a side says nothing. */
const sidesOf = (row: OneSidedRow): { says: OneSidedRow['line'] | null; took: OneSidedRow['line'] | null } =>
  row.other
    ? { says: row.other, took: row.line }
    : isCollection(row)
      ? { says: null, took: row.line }
      : { says: row.line, took: null }

export const columnsOf = (open: ReturnType<typeof useTrace>['open']): readonly SheetColumn<OneSidedRow>[] => {
  const side = (id: 'says' | 'took', head: string): SheetColumn<OneSidedRow> => {
    const amountOf = (row: OneSidedRow): number | null => {
      const line = sidesOf(row)[id]
      return line && (id === 'says' ? -line.amount : line.amount)
    }
    return {
      id,
      head,
      right: true,
      width: '104px',
      cell: row => {
        const line = sidesOf(row)[id]
        return line ? (
          <Amount
            minor={amountOf(row)}
            currency={line.currency}
            onOpen={() => open({ at: 'line', source: line.source, lineId: line.lineId })}
          />
        ) : (
          '–'
        )
      },
      money: row => ({ minor: amountOf(row), currency: row.line.currency }),
    }
  }
  return [
    { id: 'date', head: 'Day', width: '104px', cell: row => dateText(row.line.date), value: row => row.line.date },
    {
      id: 'order',
      head: 'Order',
      width: '104px',
      cell: row => <Span textStyle="mono">{row.line.order ?? row.other?.order ?? row.line.lineId}</Span>,
      value: row => row.line.order ?? row.line.lineId,
    },
    {
      id: 'customer',
      head: 'Customer',
      width: '150px',
      cell: row => row.line.customer ?? row.other?.customer ?? '',
      value: row => row.line.customer ?? row.other?.customer ?? null,
    },
    { id: 'gateway', head: 'Gateway', width: '92px', cell: row => row.gatewayName, value: row => row.gatewayName },
    side('says', 'Order says'),
    side('took', 'Collected'),
    {
      id: 'amount',
      head: 'Difference',
      right: true,
      width: '104px',
      cell: row => (
        <Amount
          minor={differenceOf(row)}
          currency={row.line.currency}
          onOpen={() => open({ at: 'line', source: row.line.source, lineId: row.line.lineId })}
        />
      ),
      money: row => ({ minor: differenceOf(row), currency: row.line.currency }),
    },
    { id: 'currency', head: '', width: '44px', cell: row => <Span color="muted">{row.line.currency}</Span> },
    {
      id: 'proposed',
      head: 'Proposed',
      width: '190px',
      cell: row => (row.proposed ? proposalText(row) : <Span color="muted">say what it is</Span>),
      value: row => (row.proposed ? proposalText(row) : ''),
    },
    {
      id: 'why',
      head: 'Why it stands here',
      width: '360px',
      wraps: true,
      cell: row => <Span color="muted">{whyText(row)}</Span>,
      value: whyText,
    },
  ]
}

/** Collected beyond what the order says. */
const differenceOf = (row: OneSidedRow): number => (row.other || isCollection(row) ? row.amount : -row.amount)

const proposalText = (row: OneSidedRow): string => {
  if (row.proposed?.as !== 'attached') return 'Price reduction'
  const { to } = row.proposed
  const candidate = row.candidates.find(one => one.source === to.source && one.lineId === to.lineId)
  return `Attach to ${candidate?.order ?? to.lineId}`
}

const whyText = (row: OneSidedRow): string => {
  const [best] = row.candidates
  if (row.proposed?.as === 'attached' && best) return evidenceText(best)
  if (row.hindered) return `${sortWords[row.sort]}; ${hindranceText[row.hindered]}`
  return best ? `${sortWords[row.sort]}; ${countText(row.candidates.length, 'payment')} might fit` : sortWords[row.sort]
}

/** The decisions that are proposed; of two that are to be attached to each other, once. */
export const decisionsOf = (rows: readonly OneSidedRow[]): DecidePayments['decisions'] => {
  const taken = new Set<string>()
  return rows.flatMap(row => {
    const { proposed, decide, amount } = row
    if (!proposed) return []
    const lines = [decide, ...(proposed.as === 'attached' ? [proposed.to] : [])].map(
      one => `${one.source} ${one.lineId}`,
    )
    if (lines.some(line => taken.has(line))) return []
    for (const line of lines) taken.add(line)
    return [{ of: decide, amount, decision: proposed, note: '' }]
  })
}

/** What deciding so many at once comes to. */
export const batchText = (decisions: DecidePayments['decisions']): string => {
  const ties = decisions.filter(one => one.decision.as === 'attached').length
  const reductions = decisions.length - ties
  const said = [
    ties > 0 ? `${countText(ties, 'tie')}, which ${ties === 1 ? 'posts' : 'post'} nothing` : '',
    reductions > 0 ? `${countText(reductions, 'price reduction')}, an entry each` : '',
  ].filter(Boolean)
  return `${said.join('; ')}. Taken back as one.`
}

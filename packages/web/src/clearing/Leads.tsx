import { Span, Table } from '@chakra-ui/react'
import type { ProofPage as ProofFacts } from '@culvert/contract'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { pageOfRef, startOfRef } from '../context/startOfLink.ts'
import { Amount } from '../ui/Amount.tsx'
import { amountText, dayText, readableDates } from '../ui/formats.ts'

type Lead = ProofFacts['leads'][number]

const leadText = (lead: Lead, money: (minor: number) => string): string => {
  switch (lead.sort) {
    case 'wrong_entry':
      return 'its entries hold this much more on the account than its lines come to'
    case 'does_not_foot':
      return 'does not foot, by exactly this'
    case 'single':
      return 'is exactly this: missing on one side, or too much'
    case 'sign':
      return 'is half of it: booked with the wrong sign'
    case 'double':
      return 'stand here twice, alike'
    case 'swapped_digits':
      return `two digits changed over: ${money(lead.meant ?? 0)} was meant`
    case 'pair':
      return 'come to it together'
  }
}

/** Where what is unexplained may come from, the most telling first. */
export const Leads = ({ page }: { readonly page: ProofFacts }) => {
  const { locale } = useClient()
  if (page.unexplained === null || (page.unexplained === 0 && page.leads.length === 0)) return null
  const money = (minor: number) => amountText(minor, page.currency, locale)
  return (
    <Table.Root aria-label="Where it may come from" style={{ marginTop: 16 }}>
      <Table.Header>
        <Table.Row>
          <Table.ColumnHeader>
            {page.unexplained === 0
              ? 'What is wrong though it cancels'
              : `Where ${money(page.unexplained)} may come from`}
          </Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end" style={{ width: 120 }}>
            {page.currency}
          </Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {page.leads.map((lead, place) => (
          <Table.Row key={`${lead.sort} ${lead.movements[0]?.name} ${place}`}>
            <Table.Cell
              whiteSpace="normal"
              lineHeight="1.25"
              textStyle="small"
              data-words=""
              style={{ paddingTop: 5, paddingBottom: 5 }}
            >
              {lead.movements.map((movement, index) => (
                <span key={movement.name}>
                  {index > 0 ? ' and ' : ''}
                  <MovementName movement={movement} currency={page.currency} />
                  <Span color="muted">, {dayText(movement.date)}</Span>
                </span>
              ))}
              <br />
              <Span color="muted">{leadText(lead, money)}</Span>
            </Table.Cell>
            <Table.Cell textAlign="end" textStyle="small" data-words="">
              {lead.movements.map(movement => (
                <div key={movement.name}>
                  <Amount
                    minor={movement.amount}
                    currency={page.currency}
                    trace={movement.ref && startOfRef(movement.ref, page.currency)}
                  />
                </div>
              ))}
            </Table.Cell>
          </Table.Row>
        ))}
        {page.leads.length === 0 ? (
          <Table.Row>
            <Table.Cell colSpan={2} color="muted" whiteSpace="normal" lineHeight="1.25">
              Nothing of the last year is this amount, half of it, its double, or it with two digits changed over.
            </Table.Cell>
          </Table.Row>
        ) : null}
      </Table.Body>
    </Table.Root>
  )
}

const MovementName = ({
  movement,
  currency,
}: {
  readonly movement: Lead['movements'][number]
  readonly currency: string
}) => {
  const href = useHref()
  const page = movement.ref && pageOfRef(movement.ref, currency)
  return page ? <Link to={href(page)}>{readableDates(movement.name)}</Link> : movement.name
}

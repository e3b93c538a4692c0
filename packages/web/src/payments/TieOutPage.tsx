import { Box, Span, Table } from '@chakra-ui/react'
import type { TieOutPage as TieOutFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { settlementPath } from '../context/settlementPath.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { amountText, countText, dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { Select } from '../ui/Select.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { PaymentLinks } from './PaymentLinks.tsx'
import { tieOutQuery, useSaveLabels } from './paymentQueries.ts'

type Item = TieOutFacts['items'][number]

const sortWords: Record<Item['sort'], string> = {
  tender_not_collected: 'paid by the shop’s word, never collected',
  collected_without_order: 'collected, no order explains it',
  refund_not_paid: 'refund promised, not paid yet',
  refund_without_order: 'paid back, no order explains it',
  amount_differs: 'collected differs from the order',
}

const pathOf = ({ settlement, ...key }: Item['line']): string => settlementPath({ ...key, key: settlement })

/** Channels' tenders held against what the gateways collected: what only one side knows of. */
export const TieOutPage = () => {
  const { clientId, locale } = useClient()
  const href = useHref()
  const { open } = useTrace()
  const query = useQuery(tieOutQuery(clientId))
  const { data } = query
  const columns: readonly SheetColumn<Item>[] = [
    { id: 'date', head: 'Day', width: '110px', cell: row => dateText(row.line.date), value: row => row.line.date },
    {
      id: 'sort',
      head: 'What',
      width: '250px',
      cell: row => <Span color="ochre">◆ {sortWords[row.sort]}</Span>,
      value: row => sortWords[row.sort],
    },
    {
      id: 'order',
      head: 'Order',
      width: '120px',
      cell: row => <Span textStyle="mono">{row.line.order ?? row.other?.order ?? row.line.lineId}</Span>,
      value: row => row.line.order ?? row.line.lineId,
    },
    { id: 'customer', head: 'Customer', cell: row => row.line.customer ?? '', value: row => row.line.customer },
    { id: 'source', head: 'Says', width: '120px', cell: row => row.line.sourceName, value: row => row.line.sourceName },
    { id: 'gateway', head: 'Gateway', width: '120px', cell: row => row.gatewayName, value: row => row.gatewayName },
    {
      id: 'says',
      head: 'Shop says',
      right: true,
      width: '110px',
      // What each side says of it: of a tender the other way round, as the gateway signs it.
      cell: row =>
        row.other ? (
          <Amount
            minor={-row.other.amount}
            currency={row.other.currency}
            onOpen={() => open({ at: 'line', source: row.other?.source ?? '', lineId: row.other?.lineId ?? '' })}
          />
        ) : null,
      money: row => ({ minor: row.other ? -row.other.amount : null, currency: row.line.currency }),
    },
    {
      id: 'took',
      head: 'Gateway took',
      right: true,
      width: '110px',
      cell: row =>
        row.other ? (
          <Amount
            minor={row.line.amount}
            currency={row.line.currency}
            onOpen={() => open({ at: 'line', source: row.line.source, lineId: row.line.lineId })}
          />
        ) : null,
      money: row => ({ minor: row.other ? row.line.amount : null, currency: row.line.currency }),
    },
    {
      id: 'amount',
      head: 'Amount',
      right: true,
      width: '120px',
      cell: row => (
        <Amount
          minor={row.amount}
          currency={row.line.currency}
          onOpen={() => open({ at: 'line', source: row.line.source, lineId: row.line.lineId })}
        />
      ),
      money: row => ({ minor: row.amount, currency: row.line.currency }),
    },
    { id: 'currency', head: '', width: '50px', cell: row => <Span color="muted">{row.line.currency}</Span> },
  ]
  return (
    <Page
      of={query}
      links={<PaymentLinks here="tie-out" />}
      title="Tie-out"
      facts={
        data ? (
          <span>
            {countText(data.matched, 'payment')} tied, {data.items.length} on one side only
            {data.elsewhere.map(
              one =>
                `, ${countText(one.count, 'collection')} of ${amountText(one.amount, one.currency, locale)} ${one.currency} booked elsewhere`,
            )}
          </span>
        ) : null
      }
    >
      <SheetTable
        label="On one side only"
        columns={columns}
        rows={data?.items ?? []}
        rowKey={row => `${row.sort} ${row.line.source} ${row.line.lineId}`}
        to={row => href(pathOf(row.line))}
        empty="Every payment that a shop reports was collected, and every collection has its order. Where a source settles sales and fees on one balance, there is nothing to tie."
      />
      {data && data.labels.length > 0 ? <Labels page={data} /> : null}
      {data && data.labels.length > 0 ? (
        <Box color="muted" textStyle="small" mt="8px">
          Orders paid by a means that no source collects are booked by their route on the{' '}
          <Link to={href('/mapping')} style={{ textDecoration: 'underline' }}>
            Mapping page
          </Link>
          .
        </Box>
      ) : null}
    </Page>
  )
}

const Labels = ({ page }: { readonly page: TieOutFacts }) => {
  const { clientId, locale } = useClient()
  const notice = useNotice()
  const save = useSaveLabels(clientId)
  const nameOf = (source: string) => page.gateways.find(one => one.source === source)?.name ?? source
  const choose = (label: string, source: string) => {
    const rest = page.labels.flatMap(one =>
      one.label !== label && one.source !== null && one.source !== one.label
        ? [{ label: one.label, source: one.source }]
        : [],
    )
    const labels = source === '' ? rest : [...rest, { label, source }]
    save.mutate(
      { labels, version: page.version },
      {
        onError: notice.refuse,
        onSuccess: () =>
          notice.say(
            source === ''
              ? `“${label}” is no source’s from now on.`
              : `“${label}” is collected by ${nameOf(source)} from now on.`,
          ),
      },
    )
  }
  return (
    <Box mt="22px">
      <Table.Root aria-label="Means of payment">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>Means of payment, as the shop calls it</Table.ColumnHeader>
            <Table.ColumnHeader>Reported by</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 240 }}>Collected by</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" style={{ width: 240 }}>
              Tendered with no source behind
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {page.labels.map(row => (
            <Table.Row key={row.label}>
              <Table.Cell textStyle="mono">{row.label}</Table.Cell>
              <Table.Cell>{row.channels.join(', ')}</Table.Cell>
              <Table.Cell>
                <Select
                  aria-label={`Who collects ${row.label}`}
                  h="28px"
                  disabled={save.isPending}
                  value={row.source ?? ''}
                  onChange={event => choose(row.label, event.target.value)}
                >
                  <option value="">no source</option>
                  {page.gateways.map(gateway => (
                    <option key={gateway.source} value={gateway.source}>
                      {gateway.name}
                    </option>
                  ))}
                </Select>
              </Table.Cell>
              <Table.Cell textAlign="end">
                {row.without
                  .map(
                    one =>
                      `${amountText(one.amount, one.currency, locale)} ${one.currency}, ${countText(one.count, 'line')}`,
                  )
                  .join(' · ')}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  )
}

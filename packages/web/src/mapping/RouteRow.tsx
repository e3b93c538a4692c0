import { Button, Span, Table, VisuallyHidden } from '@chakra-ui/react'
import type { MappingPage, SeenRow } from '@culvert/contract'
import { kinds } from '@culvert/core'
import { useMemo } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { AccountPicker } from '../ui/AccountPicker.tsx'
import { Amount } from '../ui/Amount.tsx'
import { amountText } from '../ui/formats.ts'
import { TaxChoice } from '../ui/TaxChoice.tsx'
import { editOf, elsewhere, otherTargets, type RouteEdit, targetText } from './routeEdit.ts'

interface RouteRowProps {
  readonly row: SeenRow
  readonly page: MappingPage
  /** What was changed and not saved yet. */
  readonly edited: RouteEdit | undefined
  readonly marked: boolean
  /** The largest amount of the page: its bar is the longest. Minor units. */
  readonly heaviest: number
  readonly onEdit: (change: Partial<RouteEdit>) => void
}

/** One row of the routes: what was seen with its money, where it goes, and why. */
export const RouteRow = ({ row, page, edited, marked, heaviest, onEdit }: RouteRowProps) => {
  const { locale } = useClient()
  const others = useMemo(() => otherTargets(page), [page])
  const value = edited ?? editOf(row)
  const indented = row.narrow || (row.unmapped && page.rows.some(other => other.kind === row.kind && other !== row))
  const isPayout = row.kind === 'payout' || row.kind === 'payout_returned'
  return (
    <Table.Row data-tone={edited ? 'selected' : row.unmapped ? 'waiting' : marked ? 'active' : ''}>
      <Table.Cell style={indented && !row.unmapped ? { paddingLeft: 34 } : undefined}>
        {row.unmapped ? (
          <Span color="ochre" aria-hidden="true">
            ◆{' '}
          </Span>
        ) : null}
        <RowName row={row} indented={indented} />
        {row.unmapped ? <VisuallyHidden> not mapped</VisuallyHidden> : null}
      </Table.Cell>
      <Table.Cell textAlign="end">
        <Span
          display="inline-block"
          h="8px"
          w={`${Math.max(1, Math.round(48 * Math.sqrt(Math.abs(row.amount) / heaviest)))}px`}
          bg="bar"
          mr="8px"
          verticalAlign="middle"
          aria-hidden="true"
        />
        <Amount
          minor={row.amount}
          currency={page.currency}
          fontWeight={row.narrow ? 'inherit' : '600'}
          trace={{
            at: 'kind',
            source: page.source,
            kind: row.kind,
            ...(row.category ? { category: row.category } : {}),
            ...(row.region ? { region: row.region } : {}),
            ...(row.gateway ? { gateway: row.gateway } : {}),
            ...(row.method ? { method: row.method } : {}),
            ...(row.byItself ? { byItself: row.byItself.to } : {}),
          }}
        />
      </Table.Cell>
      <Table.Cell data-picks="">
        {isPayout || row.byItself ? (
          <Span color="muted" style={{ paddingLeft: 9 }}>
            {row.byItself === null
              ? 'the bank accounts of the source'
              : row.byItself.to === 'gateway'
                ? `${row.byItself.name}, by itself`
                : 'booked by the orders’ tenders'}
          </Span>
        ) : (
          <AccountPicker
            label={`Account for ${nameOf(row)}`}
            kind={row.kind}
            accounts={page.accounts}
            value={value.account}
            onChange={account => onEdit({ account, item: null, elsewhere: false })}
            others={others}
            other={value.elsewhere ? elsewhere : value.item}
            onOther={key =>
              onEdit({
                account: null,
                item: key === elsewhere ? null : key,
                elsewhere: key === elsewhere,
                ...(key === elsewhere && { taxCode: null }),
              })
            }
          />
        )}
      </Table.Cell>
      <Table.Cell data-picks="">
        {isPayout || row.byItself ? (
          <Span color="muted" style={{ paddingLeft: 9 }}>
            –
          </Span>
        ) : (
          <TaxChoice
            kind={row.kind}
            label={`Tax code for ${nameOf(row)}`}
            page={page}
            value={value.taxCode}
            onChange={taxCode => onEdit({ taxCode })}
          />
        )}
      </Table.Cell>
      <Table.Cell textStyle="small" data-words="" title={kinds[row.kind].meaning}>
        {row.unmapped && row.proposal && !edited ? (
          <Button
            variant="ghost"
            onClick={() => row.proposal && onEdit({ account: row.proposal.account, taxCode: row.proposal.taxCode })}
          >
            propose {row.proposal.account} {page.accounts.find(account => account.code === row.proposal?.account)?.name}
            , for “{row.proposal.words.join(', ')}”
          </Button>
        ) : row.narrow ? (
          <Span color="muted">
            {row.byItself
              ? 'needs no route'
              : `narrower: by ${[row.category && 'category', row.region && 'region', row.gateway && 'means of payment', row.method && 'method'].filter(Boolean).join(' and ')}`}
          </Span>
        ) : (
          <Span color="muted">{kinds[row.kind].meaning}</Span>
        )}
        {edited?.madeFrom !== undefined && edited.madeFrom !== targetText(row) ? (
          <Span color="ochre"> · ◆ meanwhile somebody saved: {targetText(row)}</Span>
        ) : null}
        {row.sharedWith.length > 0 && edited ? (
          <Span color="muted"> · {row.sharedWith.join(', ')} keeps the route that stands</Span>
        ) : null}
        {row.sample && !row.region ? (
          <span>
            {' '}
            · <Span textStyle="mono">{row.sample.lineId}</Span>
            {row.sample.description ? ` “${row.sample.description}”` : ''}{' '}
            {amountText(row.sample.amount, page.currency, locale)}
          </span>
        ) : null}
      </Table.Cell>
    </Table.Row>
  )
}

const nameOf = (row: SeenRow): string =>
  [kinds[row.kind].label, row.category, row.gateway, row.method, row.region && `to ${row.region}`]
    .filter(Boolean)
    .join(' · ')

const RowName = ({ row, indented }: { readonly row: SeenRow; readonly indented: boolean }) => {
  const narrow = [row.category, row.gateway, row.method, row.region && `to ${row.region}`].filter(Boolean).join(', ')
  if (indented && !row.unmapped && narrow) return <>{narrow}</>
  return (
    <>
      <Span fontWeight="600">{kinds[row.kind].label}</Span>
      {narrow ? (
        <>
          {' '}
          · <i>{narrow}</i>
        </>
      ) : null}
    </>
  )
}

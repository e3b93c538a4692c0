import { Button, Span, VisuallyHidden } from '@chakra-ui/react'
import type { MappingPage, SeenRow } from '@culvert/contract'
import { kinds } from '@culvert/core'
import { useClient } from '../context/ClientContext.tsx'
import { AccountPicker } from '../ui/AccountPicker.tsx'
import { Amount } from '../ui/Amount.tsx'
import { amountText } from '../ui/formats.ts'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { TaxChoice } from '../ui/TaxChoice.tsx'
import { editOf, elsewhere, otherTargets, type RouteEdit, targetText } from './routeEdit.ts'

interface RoutesInEditing {
  readonly page: MappingPage
  /** What was changed of a row and not saved yet. */
  readonly editedOf: (row: SeenRow) => RouteEdit | undefined
  readonly onEdit: (row: SeenRow, change: Partial<RouteEdit>) => void
}

interface EditedRow {
  readonly row: SeenRow
  readonly page: MappingPage
  readonly edited: RouteEdit | undefined
  readonly onEdit: (change: Partial<RouteEdit>) => void
}

/** What stands in the columns of the routes: what was seen with its money, where it goes, and why. */
export const routeColumns = ({ page, editedOf, onEdit }: RoutesInEditing): readonly SheetColumn<SeenRow>[] => {
  const others = otherTargets(page)
  const heaviest = Math.max(1, ...page.rows.map(row => Math.abs(row.amount)))
  const partsOf = (row: SeenRow): EditedRow => ({
    row,
    page,
    edited: editedOf(row),
    onEdit: change => onEdit(row, change),
  })
  return [
    {
      id: 'what',
      head: `What ${page.sourceName} reports`,
      width: '250px',
      value: nameOf,
      cell: row => <Seen row={row} page={page} />,
    },
    {
      id: 'amount',
      head: `13 weeks, ${page.currency}`,
      width: '172px',
      right: true,
      money: row => ({ minor: row.amount, currency: page.currency }),
      cell: row => <Weight row={row} page={page} heaviest={heaviest} />,
    },
    {
      id: 'to',
      head: 'Goes to',
      width: '274px',
      picks: true,
      value: targetText,
      cell: row => <Target {...partsOf(row)} others={others} />,
    },
    {
      id: 'tax',
      head: 'Tax',
      width: '110px',
      picks: true,
      value: row => row.route?.taxCode ?? '',
      cell: row => <Tax {...partsOf(row)} />,
    },
    { id: 'why', head: 'Why, and a line of it', words: true, cell: row => <Why {...partsOf(row)} /> },
  ]
}

/** Whether its money goes where no route says: payouts to the bank accounts, and what is booked by itself. */
const needsNoRoute = (row: SeenRow): boolean =>
  row.kind === 'payout' || row.kind === 'payout_returned' || row.byItself !== null

const Seen = ({ row, page }: { readonly row: SeenRow; readonly page: MappingPage }) => {
  const indented = row.narrow || (row.unmapped && page.rows.some(other => other.kind === row.kind && other !== row))
  return (
    <Span pl={indented && !row.unmapped ? '24px' : undefined}>
      {row.unmapped ? (
        <Span color="ochre" aria-hidden="true">
          ◆{' '}
        </Span>
      ) : null}
      <RowName row={row} indented={indented} />
      {row.unmapped ? <VisuallyHidden> not mapped</VisuallyHidden> : null}
    </Span>
  )
}

interface WeightProps {
  readonly row: SeenRow
  readonly page: MappingPage
  /** The largest amount of the page: its bar is the longest. Minor units. */
  readonly heaviest: number
}

const Weight = ({ row, page, heaviest }: WeightProps) => (
  <>
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
  </>
)

const byItselfText = ({ byItself }: SeenRow): string => {
  if (byItself === null) return 'the bank accounts of the source'
  return byItself.to === 'gateway' ? `${byItself.name}, by itself` : 'booked by the orders’ tenders'
}

const Target = ({
  row,
  page,
  edited,
  onEdit,
  others,
}: EditedRow & { readonly others: ReturnType<typeof otherTargets> }) => {
  const value = edited ?? editOf(row)
  if (needsNoRoute(row))
    return (
      <Span color="muted" pl="9px">
        {byItselfText(row)}
      </Span>
    )
  return (
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
  )
}

const Tax = ({ row, page, edited, onEdit }: EditedRow) =>
  needsNoRoute(row) ? (
    <Span color="muted" pl="9px">
      –
    </Span>
  ) : (
    <TaxChoice
      kind={row.kind}
      label={`Tax code for ${nameOf(row)}`}
      page={page}
      value={(edited ?? editOf(row)).taxCode}
      onChange={taxCode => onEdit({ taxCode })}
    />
  )

const narrowerText = (row: SeenRow): string =>
  row.byItself
    ? 'needs no route'
    : `narrower: by ${[row.category && 'category', row.region && 'region', row.gateway && 'means of payment', row.method && 'method'].filter(Boolean).join(' and ')}`

const Why = ({ row, page, edited, onEdit }: EditedRow) => {
  const { locale } = useClient()
  const { proposal } = row
  return (
    <Span textStyle="small" title={kinds[row.kind].meaning}>
      {row.unmapped && proposal && !edited ? (
        <Button variant="ghost" onClick={() => onEdit({ account: proposal.account, taxCode: proposal.taxCode })}>
          propose {proposal.account} {page.accounts.find(account => account.code === proposal.account)?.name}, for “
          {proposal.words.join(', ')}”
        </Button>
      ) : (
        <Span color="muted">{row.narrow ? narrowerText(row) : kinds[row.kind].meaning}</Span>
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
    </Span>
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

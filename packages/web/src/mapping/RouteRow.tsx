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
    <tr className={edited ? 'selected' : row.unmapped ? 'waiting' : marked ? 'active' : ''}>
      <td style={indented && !row.unmapped ? { paddingLeft: 34 } : undefined}>
        {row.unmapped ? (
          <span className="ochre" aria-hidden="true">
            ◆{' '}
          </span>
        ) : null}
        <RowName row={row} indented={indented} />
        {row.unmapped ? <span className="visually-hidden"> not mapped</span> : null}
      </td>
      <td className="right">
        <span
          className="money-bar"
          aria-hidden="true"
          style={{ width: Math.max(1, Math.round(48 * Math.sqrt(Math.abs(row.amount) / heaviest))) }}
        />
        <Amount
          minor={row.amount}
          currency={page.currency}
          className={row.narrow ? '' : 'strong'}
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
      </td>
      <td className="picks">
        {isPayout || row.byItself ? (
          <span className="muted" style={{ paddingLeft: 9 }}>
            {row.byItself === null
              ? 'the bank accounts of the source'
              : row.byItself.to === 'gateway'
                ? `${row.byItself.name}, by itself`
                : 'booked by the orders’ tenders'}
          </span>
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
      </td>
      <td className="picks">
        {isPayout || row.byItself ? (
          <span className="muted" style={{ paddingLeft: 9 }}>
            –
          </span>
        ) : (
          <TaxChoice
            kind={row.kind}
            label={`Tax code for ${nameOf(row)}`}
            page={page}
            value={value.taxCode}
            onChange={taxCode => onEdit({ taxCode })}
          />
        )}
      </td>
      <td className="small" title={kinds[row.kind].meaning}>
        {row.unmapped && row.proposal && !edited ? (
          <button
            type="button"
            className="linklike"
            onClick={() => row.proposal && onEdit({ account: row.proposal.account, taxCode: row.proposal.taxCode })}
          >
            propose {row.proposal.account} {page.accounts.find(account => account.code === row.proposal?.account)?.name}
            , for “{row.proposal.words.join(', ')}”
          </button>
        ) : row.narrow ? (
          <span className="muted">
            {row.byItself
              ? 'needs no route'
              : `narrower: by ${[row.category && 'category', row.region && 'region', row.gateway && 'means of payment', row.method && 'method'].filter(Boolean).join(' and ')}`}
          </span>
        ) : (
          <span className="muted">{kinds[row.kind].meaning}</span>
        )}
        {edited?.madeFrom !== undefined && edited.madeFrom !== targetText(row) ? (
          <span className="ochre"> · ◆ meanwhile somebody saved: {targetText(row)}</span>
        ) : null}
        {row.sharedWith.length > 0 && edited ? (
          <span className="muted"> · {row.sharedWith.join(', ')} keeps the route that stands</span>
        ) : null}
        {row.sample && !row.region ? (
          <span>
            {' '}
            · <span className="mono">{row.sample.lineId}</span>
            {row.sample.description ? ` “${row.sample.description}”` : ''}{' '}
            {amountText(row.sample.amount, page.currency, locale)}
          </span>
        ) : null}
      </td>
    </tr>
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
      <span className="strong">{kinds[row.kind].label}</span>
      {narrow ? (
        <>
          {' '}
          · <i>{narrow}</i>
        </>
      ) : null}
    </>
  )
}

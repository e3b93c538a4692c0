import type { CloseMonth } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { Button } from '../ui/Button.tsx'
import { monthText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { StateMark } from '../ui/StateMark.tsx'
import { closeQuery } from './closeQueries.ts'
import { LockDialog } from './LockDialog.tsx'

/** The months: what still waits in each, and its lock. */
export const ClosePage = () => {
  const { clientId } = useClient()
  const href = useHref()
  const { data, error } = useQuery(closeQuery(clientId))
  const [asked, setAsked] = useState<CloseMonth | null>(null)
  const cell = (count: number, to: string) =>
    count === 0 ? (
      '–'
    ) : (
      <Link className="ochre" to={to}>
        {count}
      </Link>
    )
  return (
    <Page
      title="Close"
      facts={
        error ? (
          <span className="crimson">{error.message}</span>
        ) : (
          <span>a locked month takes no entries; reversals go to the first open day after it</span>
        )
      }
    >
      <table className="sheet" aria-label="Months">
        <thead>
          <tr>
            <th>Month</th>
            <th>State</th>
            <th className="right">Blocked</th>
            <th className="right">To post</th>
            <th className="right">Waiting, gross</th>
            <th className="right">Corrections</th>
            <th className="right">Payouts not in the bank</th>
            <th style={{ width: 110 }} />
          </tr>
        </thead>
        <tbody>
          {data?.months.map(row => (
            <tr key={row.month}>
              <td className="strong">{monthText(row.month)}</td>
              <td>
                {row.locked ? (
                  <StateMark state="closed" word="locked" />
                ) : row.ready ? (
                  <StateMark state="posted" word="ready to lock" />
                ) : (
                  <StateMark state="proposed" word="open" />
                )}
              </td>
              <td className="right">{cell(row.blocked, href(`/settlements?state=blocked&period=${row.month}`))}</td>
              <td className="right">{cell(row.proposed, href(`/settlements?state=proposed&period=${row.month}`))}</td>
              <td className="right">
                <Amount minor={row.waitingAmount} />
              </td>
              <td className="right">
                {cell(row.corrections, href(`/settlements?state=corrected&period=${row.month}`))}
              </td>
              <td className="right">{cell(row.unpaired, href(`/bank?period=${row.month}`))}</td>
              <td>
                <Button
                  h="26px"
                  aria-label={`${row.locked ? 'Open' : 'Lock'} ${monthText(row.month)}`}
                  onClick={() => setAsked(row)}
                >
                  {row.locked ? 'Open again' : 'Lock'}
                </Button>
              </td>
            </tr>
          ))}
          {data?.months.length === 0 ? (
            <tr>
              <td colSpan={8} className="muted">
                Months stand here once something happened in them.
              </td>
            </tr>
          ) : null}
        </tbody>
      </table>
      {asked ? <LockDialog row={asked} onClose={() => setAsked(null)} /> : null}
    </Page>
  )
}

import { Box, Kbd, Span } from '@chakra-ui/react'
import { subjectKey, type TieOutPage as TieOutFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { settlementPath } from '../context/settlementPath.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { useMay } from '../context/useMay.ts'
import { Act, Whose } from '../ui/Act.tsx'
import { AskConsent } from '../ui/AskConsent.tsx'
import { AskDialog } from '../ui/AskDialog.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { amountText, countText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { Page } from '../ui/Page.tsx'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { useKeptSelection } from '../ui/sheet/useKeptSelection.ts'
import { DecidePayment } from './DecidePayment.tsx'
import { Labels } from './Labels.tsx'
import { batchText, columnsOf, decisionsOf, keyOf } from './oneSidedColumns.tsx'
import { PaymentLinks } from './PaymentLinks.tsx'
import { tieOutQuery } from './paymentQueries.ts'
import { useDecide } from './useDecide.ts'
import { WriteOffLimit } from './WriteOffLimit.tsx'

type Item = TieOutFacts['items'][number]

const pathOf = ({ settlement, ...key }: Item['line']): string => settlementPath({ ...key, key: settlement })

/** Channels' tenders held against what the gateways collected: what only one side knows of. */
export const TieOutPage = () => {
  const { clientId, locale } = useClient()
  const may = useMay()
  const href = useHref()
  const { open } = useTrace()
  const query = useQuery(tieOutQuery(clientId))
  const { data } = query
  const [selected, setSelected] = useKeptSelection()
  const [deciding, setDeciding] = useState<Item | null>(null)
  const [asked, setAsked] = useState(false)
  const acts = useDecide()
  const columns = useMemo(() => columnsOf(open), [open])
  const items = data?.items ?? []
  const chosen = items.filter(item => selected.has(keyOf(item)))
  const proposed = (chosen.length > 0 ? chosen : items).filter(item => item.proposed !== null)
  const decisions = decisionsOf(proposed)
  const decideAll = () => acts.decide(decisions, () => setSelected(new Set()))
  const ask = () => {
    if (decisions.length > 0 && !acts.busy) setAsked(true)
  }
  useKey('p', 'decide what is proposed, of what is selected or of all', ask)
  const [only] = chosen
  useKey('o', 'decide the selected one otherwise', () => only && setDeciding(only), chosen.length === 1)
  return (
    <Page
      of={query}
      links={<PaymentLinks here="tie-out" />}
      title="Tie-out"
      facts={
        data ? (
          <span>
            {countText(data.matched, 'payment')} tied, {data.items.length} on one side only or different
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
        aboutOf={row => ({
          subject: 'payment',
          key: subjectKey(row.line.source, row.line.lineId),
          title: `payment ${row.line.lineId}`,
          link: '/payments',
        })}
        columns={columns}
        rows={data?.items ?? []}
        rowKey={keyOf}
        to={row => href(pathOf(row.line))}
        onOpen={setDeciding}
        selected={selected}
        onSelect={setSelected}
        traceOf={row => ({ at: 'line', source: row.line.source, lineId: row.line.lineId })}
        empty="Every payment that a shop reports was collected, and every collection has its order. Where a source settles sales and fees on one balance, there is nothing to tie."
      />
      {data ? <WriteOffLimit page={data} /> : null}
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
      <FootBar>
        <Act right="post" variant="solid" disabled={decisions.length === 0 || acts.busy} onClick={ask}>
          Decide {decisions.length > 0 ? `${decisions.length} as proposed` : ''}
        </Act>
        <AskConsent
          right="post"
          disabled={decisions.length === 0}
          label={`Ask for consent to decide ${decisions.length}`}
          what={`decide ${countText(decisions.length, 'payment')} as proposed`}
          wanted={() => ({ sort: 'decide_payments', decisions })}
        />
        {may('settle') ? null : <Whose right="post" />}
        {may('post') ? <Kbd>p</Kbd> : null}
        <Act right="post" disabled={chosen.length !== 1} onClick={() => only && setDeciding(only)}>
          Decide otherwise
        </Act>
        {may('post') ? <Kbd>o</Kbd> : null}
        <Span color="muted">
          {decisions.length > 0 ? batchText(decisions) : 'Nothing is proposed here: press a row to say what it is.'}
        </Span>
      </FootBar>
      <AskDialog
        open={asked}
        title={`Decide ${countText(decisions.length, 'payment')} as proposed?`}
        act={`Decide ${decisions.length}`}
        onAct={decideAll}
        onClose={() => setAsked(false)}
      >
        {batchText(decisions)}
      </AskDialog>
      {deciding && data ? (
        <DecidePayment key={keyOf(deciding)} row={deciding} page={data} onClose={() => setDeciding(null)} />
      ) : null}
    </Page>
  )
}

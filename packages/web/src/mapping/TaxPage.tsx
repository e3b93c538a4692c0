import { Button, chakra, Span } from '@chakra-ui/react'
import type { TaxCodeRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { mappingQuery, sourcesQuery } from '../context/sharedQueries.ts'
import { Act } from '../ui/Act.tsx'
import { dateText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { blankTaxCode } from './blankTaxCode.ts'
import { MappingLinks } from './MappingLinks.tsx'
import { TaxCodeDialog, treatmentWords } from './TaxCodeDialog.tsx'
import { TaxCodeListButton } from './TaxCodeListButton.tsx'

/** A rate of a code from a day on; of a code without components the code alone. */
interface RateRow {
  readonly id: string
  readonly code: TaxCodeRow
  /** Whether it is the first of its code: what is said of the code stands there. */
  readonly leads: boolean
  readonly percent: string | null
  readonly from: string | null
  readonly account: string
}

const ratesOf = (code: TaxCodeRow): readonly RateRow[] =>
  code.components.length === 0
    ? [{ id: code.code, code, leads: true, percent: null, from: null, account: '' }]
    : code.components.flatMap((component, position) =>
        component.rates.map((rate, version) => ({
          id: `${code.code} ${position} ${rate.from}`,
          code,
          leads: position + version === 0,
          percent: rate.percent,
          from: rate.from,
          account: [component.account, component.inputAccount].filter(Boolean).join(' · '),
        })),
      )

const basisText = ({ code, percent }: RateRow): string => {
  if (percent === null) return 'none'
  if (code.reverseCharge) return 'reverse charge'
  return { inclusive: 'within the price', exclusive: 'beside the price', none: 'none' }[code.basis]
}

/** What is said of a code, in full at its first rate. */
const ofCode = (id: string, head: string, text: (code: TaxCodeRow) => string, mono = false): SheetColumn<RateRow> => ({
  id,
  head,
  mono,
  value: row => text(row.code),
  cell: row => <Span color={row.leads ? undefined : 'muted'}>{text(row.code)}</Span>,
})

const codeColumns: readonly SheetColumn<RateRow>[] = [
  ofCode('code', 'Code', code => code.code, true),
  ofCode('name', 'Name', code => code.name),
  ofCode('country', 'Country', code => code.country ?? ''),
  ofCode('treatment', 'Treatment', code => treatmentWords[code.treatment]),
  { id: 'basis', head: 'Basis', value: basisText, cell: basisText },
  {
    id: 'use',
    head: 'Use',
    value: row => row.code.use,
    cell: row => (
      <>
        {row.code.use}
        {row.leads ? <TakenBack code={row.code} /> : null}
      </>
    ),
  },
  {
    id: 'rate',
    head: 'Rate, %',
    right: true,
    value: row => (row.percent === null ? null : Number(row.percent)),
    cell: row => row.percent,
  },
  { id: 'from', head: 'From', value: row => row.from, cell: row => dateText(row.from) },
  { id: 'account', head: 'Account', mono: true, value: row => row.account, cell: row => row.account },
]

/** The tax codes with their rates by date. */
export const TaxPage = () => {
  const { clientId } = useClient()
  const href = useHref()
  const sources = useQuery(sourcesQuery(clientId))
  const query = useQuery(mappingQuery(clientId, sources.data?.sources[0]?.source ?? ''))
  const { data } = query
  const [draft, setDraft] = useState<TaxCodeRow | null>(null)
  const codes = data?.taxCodes ?? []
  const columns: readonly SheetColumn<RateRow>[] = [
    ...codeColumns,
    {
      id: 'act',
      head: '',
      cell: ({ code, leads }) =>
        leads ? (
          <Act right="map" variant="ghost" aria-label={`Change ${code.code}`} onClick={() => setDraft(code)}>
            Change
          </Act>
        ) : null,
    },
  ]
  return (
    <Page
      of={sources.data?.sources.length === 0 ? sources : query}
      links={<MappingLinks here="codes" />}
      title="Tax codes"
      facts={<span>rates, and the accounts that owe them</span>}
      actions={
        <>
          <Button asChild>
            <Link to={href('/mapping/tax/check')}>Check a month’s tax</Link>
          </Button>
          {data ? <TaxCodeListButton version={data.version} /> : null}
          <Act right="map" disabled={!data} onClick={() => setDraft(blankTaxCode(data?.accounts ?? []))}>
            Add a tax code
          </Act>
        </>
      }
    >
      <SheetTable
        label="Tax codes"
        columns={columns}
        rows={codes.flatMap(ratesOf)}
        rowKey={row => row.id}
        empty="No tax codes yet."
      />
      {draft && data ? (
        <TaxCodeDialog draft={draft} accounts={data.accounts} version={data.version} onClose={() => setDraft(null)} />
      ) : null}
    </Page>
  )
}

/** How much of the tax is taken back, where it is not all of it. */
const TakenBack = ({ code }: { readonly code: TaxCodeRow }) =>
  code.recovery.map(share => (
    <chakra.div key={share.from} color="muted" textStyle="small">
      {share.percent} % back from {dateText(share.from)}
    </chakra.div>
  ))

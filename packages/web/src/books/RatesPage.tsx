import type { RateRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { dateText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { BookLinks } from './BookLinks.tsx'
import { ratesQuery } from './bookQueries.ts'
import { RateForm } from './RateForm.tsx'
import { RateListButton } from './RateListButton.tsx'

const columns: readonly SheetColumn<RateRow>[] = [
  { id: 'date', head: 'From', width: '160px', cell: row => dateText(row.date), value: row => row.date },
  { id: 'from', head: 'One', width: '120px', cell: row => row.from, value: row => row.from },
  { id: 'rate', head: 'is', width: '160px', right: true, cell: row => row.rate, value: row => Number(row.rate) },
  { id: 'to', head: 'of', cell: row => row.to, value: row => row.to },
]

/** The exchange rates that entries in other currencies are booked at: each from its date until the next. */
export const RatesPage = () => {
  const { clientId, base } = useClient()
  const query = useQuery(ratesQuery(clientId))
  return (
    <Page
      of={query}
      links={<BookLinks here="rates" />}
      title="Exchange rates"
      actions={<RateListButton />}
      facts={<span>the newest on or before an entry’s date holds</span>}
    >
      <SheetTable
        label="Exchange rates"
        columns={columns}
        rows={query.data?.rates ?? []}
        rowKey={row => `${row.date} ${row.from} ${row.to}`}
        empty={`No rates. They are needed once a source reports in another currency than ${base}.`}
      />
      <FootBar>
        <RateForm />
      </FootBar>
    </Page>
  )
}

import { chakra, Table } from '@chakra-ui/react'
import type { TaxCheckPage as TaxCheckFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { useClient } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText, monthText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { Select } from '../ui/Select.tsx'
import { MappingLinks } from './MappingLinks.tsx'
import { taxCheckQuery } from './mappingQueries.ts'
import { TaxFilings } from './TaxFilings.tsx'
import { TaxLines } from './TaxLines.tsx'
import { TaxPlaces } from './TaxPlaces.tsx'
import type { TaxLinesOf } from './taxPlaceText.ts'
import { taxPlaceFaults } from './taxPlaceText.ts'

/** The tax of a month: what is booked beside what its base calls for, and the rates charged beside the rates mapped. */
export const TaxCheckPage = () => {
  const { clientId } = useClient()
  const [search, setSearch] = useSearchParams()
  const query = useQuery(taxCheckQuery(clientId, search.get('month') ?? ''))
  const { data } = query
  const [lines, setLines] = useState<TaxLinesOf | null>(null)
  if (!data) return <Page links={<MappingLinks here="tax" />} title="Tax check" of={query} />
  const off = data.codes.filter(isOff)
  const wrong = (data.places ?? []).filter(place => taxPlaceFaults(place).length > 0)
  return (
    <Page
      links={<MappingLinks here="tax" />}
      title="Tax check"
      facts={
        <span>
          {data.month === null
            ? 'nothing to check yet'
            : wrong.length > 0
              ? `${countText(wrong.length, 'place')} not as the grid says`
              : off.length === 0
                ? 'every code’s tax is what its base calls for, but for rounding'
                : `${off.map(code => code.taxCode).join(', ')}: not what the base calls for`}
        </span>
      }
      actions={
        <Select
          aria-label="Month"
          value={data.month ?? ''}
          onChange={event => setSearch({ month: event.target.value }, { replace: true })}
        >
          {data.months.map(month => (
            <option key={month} value={month}>
              {monthText(month)}
            </option>
          ))}
        </Select>
      }
    >
      {data.places === null ? (
        <chakra.p color="ochre" style={{ margin: '0 0 10px' }}>
          ◆ Tax still hangs on routes: what goes where is checked once it is decided by destination.
        </chakra.p>
      ) : lines !== null && data.month !== null ? (
        <TaxLines month={data.month} of={lines} onClose={() => setLines(null)} />
      ) : (
        <TaxPlaces places={data.places} hanging={data.hanging} onOpen={setLines} />
      )}
      <Codes codes={data.codes} />
      <Labels labels={data.labels} />
      {data.month ? <TaxFilings month={data.month} /> : null}
    </Page>
  )
}

// A cent for each amount that was rounded is no error; more is.
const isOff = (code: TaxCheckFacts['codes'][number]): boolean => Math.abs(code.difference) > code.roundings

const percent = (value: number): string => `${Number(value.toFixed(4))} %`

const Codes = ({ codes }: { readonly codes: TaxCheckFacts['codes'] }) => (
  <Table.Root aria-label="Tax by code" style={{ marginBottom: 18 }}>
    <Table.Header>
      <Table.Row>
        <Table.ColumnHeader>Code</Table.ColumnHeader>
        <Table.ColumnHeader textAlign="end">Rate</Table.ColumnHeader>
        <Table.ColumnHeader>Version from</Table.ColumnHeader>
        <Table.ColumnHeader>Currency</Table.ColumnHeader>
        <Table.ColumnHeader textAlign="end">Base</Table.ColumnHeader>
        <Table.ColumnHeader textAlign="end">Booked</Table.ColumnHeader>
        <Table.ColumnHeader textAlign="end">Called for</Table.ColumnHeader>
        <Table.ColumnHeader />
        <Table.ColumnHeader textAlign="end">Difference</Table.ColumnHeader>
      </Table.Row>
    </Table.Header>
    <Table.Body>
      {codes.map(code => (
        <Table.Row key={`${code.taxCode} ${code.currency} ${code.version} ${code.percent}`}>
          <Table.Cell textStyle="mono">{code.taxCode}</Table.Cell>
          <Table.Cell textAlign="end">{percent(code.percent)}</Table.Cell>
          <Table.Cell>{code.version.split(' ').map(dateText).join(', ')}</Table.Cell>
          <Table.Cell>{code.currency}</Table.Cell>
          <Table.Cell textAlign="end">
            <Amount minor={code.base} currency={code.currency} />
          </Table.Cell>
          <Table.Cell textAlign="end">
            <Amount minor={code.booked} currency={code.currency} />
          </Table.Cell>
          <Table.Cell textAlign="end">
            <Amount minor={code.expected} currency={code.currency} />
          </Table.Cell>
          <Table.Cell color="muted" textStyle="small" data-words="">
            {code.difference === 0 ? '' : isOff(code) ? 'more than rounding' : 'rounding'}
          </Table.Cell>
          <Table.Cell
            textAlign="end"
            color={isOff(code) ? 'ochre' : 'muted'}
            fontWeight={isOff(code) ? '600' : 'inherit'}
          >
            <Amount minor={code.difference} currency={code.currency} />
          </Table.Cell>
        </Table.Row>
      ))}
      {codes.length === 0 ? (
        <Table.Row>
          <Table.Cell colSpan={9} color="muted">
            No line of the month bears a tax code.
          </Table.Cell>
        </Table.Row>
      ) : null}
    </Table.Body>
  </Table.Root>
)

const Labels = ({ labels }: { readonly labels: TaxCheckFacts['labels'] }) => (
  <Table.Root aria-label="Tax by region and label">
    <Table.Header>
      <Table.Row>
        <Table.ColumnHeader>Source</Table.ColumnHeader>
        <Table.ColumnHeader>Region</Table.ColumnHeader>
        <Table.ColumnHeader>Label</Table.ColumnHeader>
        <Table.ColumnHeader textAlign="end">Lines</Table.ColumnHeader>
        <Table.ColumnHeader textAlign="end">Base</Table.ColumnHeader>
        <Table.ColumnHeader textAlign="end">Tax charged</Table.ColumnHeader>
        <Table.ColumnHeader textAlign="end">Rate seen</Table.ColumnHeader>
        <Table.ColumnHeader>Rate mapped</Table.ColumnHeader>
      </Table.Row>
    </Table.Header>
    <Table.Body>
      {labels.map(label => (
        <Table.Row key={[label.source, label.currency, label.region, label.taxLabel].join('|')}>
          <Table.Cell>{label.source}</Table.Cell>
          <Table.Cell>{label.region ?? 'none told'}</Table.Cell>
          <Table.Cell>{label.taxLabel ?? 'none told'}</Table.Cell>
          <Table.Cell textAlign="end">{label.lines}</Table.Cell>
          <Table.Cell textAlign="end">
            <Amount minor={label.base} currency={label.currency} />
          </Table.Cell>
          <Table.Cell textAlign="end">
            <Amount minor={label.tax} currency={label.currency} />
          </Table.Cell>
          <Table.Cell textAlign="end">{label.seenPercent === null ? 'no base' : percent(label.seenPercent)}</Table.Cell>
          <Table.Cell>{label.mapped.map(one => `${one.taxCode} ${percent(one.percent)}`).join(', ')}</Table.Cell>
        </Table.Row>
      ))}
      {labels.length === 0 ? (
        <Table.Row>
          <Table.Cell colSpan={8} color="muted">
            The sources told no tax of their own this month: it is worked out from the prices.
          </Table.Cell>
        </Table.Row>
      ) : null}
    </Table.Body>
  </Table.Root>
)

import { Box, chakra, Span } from '@chakra-ui/react'
import type { TaxCheckPage as TaxCheckFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { useClient } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText, monthText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { Select } from '../ui/Select.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
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
  const openLines = (of: TaxLinesOf): void => {
    setLines(of)
    window.scrollTo({ top: 0 })
  }
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
      {lines !== null && data.month !== null ? (
        <TaxLines month={data.month} of={lines} onClose={() => setLines(null)} />
      ) : data.places === null ? (
        <chakra.p color="ochre" style={{ margin: '0 0 10px' }}>
          ◆ Tax still hangs on routes: what goes where is checked once it is decided by destination.
        </chakra.p>
      ) : (
        <TaxPlaces places={data.places} hanging={data.hanging} onOpen={openLines} />
      )}
      <Codes codes={data.codes} onOpen={openLines} />
      <Labels labels={data.labels} onOpen={openLines} />
      {data.month ? <TaxFilings month={data.month} /> : null}
    </Page>
  )
}

// A cent for each amount that was rounded is no error; more is.
const isOff = (code: TaxCheckFacts['codes'][number]): boolean => Math.abs(code.difference) > code.roundings

const percent = (value: number): string => `${Number(value.toFixed(4))} %`

type OpenLines = (of: TaxLinesOf) => void
type Code = TaxCheckFacts['codes'][number]
type Label = TaxCheckFacts['labels'][number]

const linesOf = ({ taxCode, currency }: Code): TaxLinesOf => ({ title: `Taxed ${taxCode}`, currency, code: taxCode })

const codeMoney = (id: 'base' | 'booked' | 'expected', head: string, onOpen: OpenLines): SheetColumn<Code> => ({
  id,
  head,
  right: true,
  cell: code => <Amount minor={code[id]} currency={code.currency} onOpen={() => onOpen(linesOf(code))} />,
  money: code => ({ minor: code[id], currency: code.currency }),
})
const sizeOf = (code: Code): string => (code.difference === 0 ? '' : isOff(code) ? 'more than rounding' : 'rounding')

const codeColumns = (onOpen: OpenLines): readonly SheetColumn<Code>[] => [
  {
    id: 'code',
    head: 'Code',
    cell: code => <Span textStyle="mono">{code.taxCode}</Span>,
    value: code => code.taxCode,
  },
  { id: 'rate', head: 'Rate', right: true, cell: code => percent(code.percent), value: code => code.percent },
  {
    id: 'version',
    head: 'Version from',
    cell: code => code.version.split(' ').map(dateText).join(', '),
    value: code => code.version,
  },
  { id: 'currency', head: 'Currency', cell: code => code.currency, value: code => code.currency },
  codeMoney('base', 'Base', onOpen),
  codeMoney('booked', 'Booked', onOpen),
  codeMoney('expected', 'Called for', onOpen),
  {
    id: 'size',
    head: '',
    cell: code => (
      <Span color="muted" textStyle="small">
        {sizeOf(code)}
      </Span>
    ),
    value: sizeOf,
  },
  {
    id: 'difference',
    head: 'Difference',
    right: true,
    cell: code => (
      <Amount
        minor={code.difference}
        currency={code.currency}
        onOpen={() => onOpen(linesOf(code))}
        color={isOff(code) ? 'ochre' : 'muted'}
        fontWeight={isOff(code) ? '600' : 'inherit'}
      />
    ),
    money: code => ({ minor: code.difference, currency: code.currency }),
  },
]

const Codes = ({ codes, onOpen }: { readonly codes: readonly Code[]; readonly onOpen: OpenLines }) => (
  <Box mb="18px">
    <SheetTable
      label="Tax by code"
      scope="code-"
      columns={codeColumns(onOpen)}
      rows={codes}
      rowKey={code => `${code.taxCode} ${code.currency} ${code.version} ${code.percent}`}
      empty="No line of the month bears a tax code."
    />
  </Box>
)

const mappedText = (label: Label): string =>
  label.mapped.map(one => `${one.taxCode} ${percent(one.percent)}`).join(', ')

const placeOfLabel = ({ region, taxLabel }: Label): string =>
  [region ?? 'no region', taxLabel ?? 'no label'].join(' · ')

const labelMoney = (id: 'base' | 'tax', head: string, onOpen: OpenLines): SheetColumn<Label> => ({
  id,
  head,
  right: true,
  cell: label => {
    const { source, region, taxLabel, currency } = label
    const charged = { source, part: id, ...(region && { region }), ...(taxLabel && { label: taxLabel }) }
    return (
      <Amount
        minor={label[id]}
        currency={currency}
        onOpen={() => onOpen({ title: `${head} of ${placeOfLabel(label)}`, currency, charged })}
      />
    )
  },
  money: label => ({ minor: label[id], currency: label.currency }),
})

const labelColumns = (onOpen: OpenLines): readonly SheetColumn<Label>[] => [
  { id: 'source', head: 'Source', cell: label => label.source, value: label => label.source },
  {
    id: 'region',
    head: 'Region',
    cell: label => label.region ?? 'none told',
    value: label => label.region ?? 'none told',
  },
  {
    id: 'label',
    head: 'Label',
    cell: label => label.taxLabel ?? 'none told',
    value: label => label.taxLabel ?? 'none told',
  },
  { id: 'lines', head: 'Lines', right: true, cell: label => label.lines, value: label => label.lines },
  labelMoney('base', 'Base', onOpen),
  labelMoney('tax', 'Tax charged', onOpen),
  {
    id: 'seen',
    head: 'Rate seen',
    right: true,
    cell: label => (label.seenPercent === null ? 'no base' : percent(label.seenPercent)),
    value: label => label.seenPercent,
  },
  { id: 'mapped', head: 'Rate mapped', cell: mappedText, value: mappedText },
]

const Labels = ({ labels, onOpen }: { readonly labels: readonly Label[]; readonly onOpen: OpenLines }) => (
  <SheetTable
    label="Tax by region and label"
    scope="label-"
    columns={labelColumns(onOpen)}
    rows={labels}
    rowKey={label => [label.source, label.currency, label.region, label.taxLabel].join('|')}
    empty="The sources told no tax of their own this month: it is worked out from the prices."
  />
)

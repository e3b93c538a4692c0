import type { TaxCheckPage as TaxCheckFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { useClient } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText, monthText } from '../ui/formats.ts'
import { Select } from '../ui/Input.tsx'
import { Page } from '../ui/Page.tsx'
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
  const { data } = useQuery(taxCheckQuery(clientId, search.get('month') ?? ''))
  const [lines, setLines] = useState<TaxLinesOf | null>(null)
  if (!data) return null
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
        <p className="ochre" style={{ margin: '0 0 10px' }}>
          ◆ Tax still hangs on routes: what goes where is checked once it is decided by destination.
        </p>
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
  <table className="sheet" aria-label="Tax by code" style={{ marginBottom: 18 }}>
    <thead>
      <tr>
        <th>Code</th>
        <th className="right">Rate</th>
        <th>Version from</th>
        <th>Currency</th>
        <th className="right">Base</th>
        <th className="right">Booked</th>
        <th className="right">Called for</th>
        <th />
        <th className="right">Difference</th>
      </tr>
    </thead>
    <tbody>
      {codes.map(code => (
        <tr key={`${code.taxCode} ${code.currency} ${code.version} ${code.percent}`}>
          <td className="mono">{code.taxCode}</td>
          <td className="right">{percent(code.percent)}</td>
          <td>{code.version.split(' ').map(dateText).join(', ')}</td>
          <td>{code.currency}</td>
          <td className="right">
            <Amount minor={code.base} currency={code.currency} />
          </td>
          <td className="right">
            <Amount minor={code.booked} currency={code.currency} />
          </td>
          <td className="right">
            <Amount minor={code.expected} currency={code.currency} />
          </td>
          <td className="muted small">
            {code.difference === 0 ? '' : isOff(code) ? 'more than rounding' : 'rounding'}
          </td>
          <td className={`right ${isOff(code) ? 'ochre strong' : 'muted'}`}>
            <Amount minor={code.difference} currency={code.currency} />
          </td>
        </tr>
      ))}
      {codes.length === 0 ? (
        <tr>
          <td colSpan={9} className="muted">
            No line of the month bears a tax code.
          </td>
        </tr>
      ) : null}
    </tbody>
  </table>
)

const Labels = ({ labels }: { readonly labels: TaxCheckFacts['labels'] }) => (
  <table className="sheet" aria-label="Tax by region and label">
    <thead>
      <tr>
        <th>Source</th>
        <th>Region</th>
        <th>Label</th>
        <th className="right">Lines</th>
        <th className="right">Base</th>
        <th className="right">Tax charged</th>
        <th className="right">Rate seen</th>
        <th>Rate mapped</th>
      </tr>
    </thead>
    <tbody>
      {labels.map(label => (
        <tr key={[label.source, label.currency, label.region, label.taxLabel].join('|')}>
          <td>{label.source}</td>
          <td>{label.region ?? 'none told'}</td>
          <td>{label.taxLabel ?? 'none told'}</td>
          <td className="right">{label.lines}</td>
          <td className="right">
            <Amount minor={label.base} currency={label.currency} />
          </td>
          <td className="right">
            <Amount minor={label.tax} currency={label.currency} />
          </td>
          <td className="right">{label.seenPercent === null ? 'no base' : percent(label.seenPercent)}</td>
          <td>{label.mapped.map(one => `${one.taxCode} ${percent(one.percent)}`).join(', ')}</td>
        </tr>
      ))}
      {labels.length === 0 ? (
        <tr>
          <td colSpan={8} className="muted">
            The sources told no tax of their own this month: it is worked out from the prices.
          </td>
        </tr>
      ) : null}
    </tbody>
  </table>
)

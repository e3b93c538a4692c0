import type { TaxCodeRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { mappingQuery, sourcesQuery } from '../context/sharedQueries.ts'
import { Button } from '../ui/Button.tsx'
import { dateText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { blankTaxCode } from './blankTaxCode.ts'
import { MappingLinks } from './MappingLinks.tsx'
import { TaxCodeDialog, treatmentWords } from './TaxCodeDialog.tsx'

/** The tax codes with their rates by date. */
export const TaxPage = () => {
  const { clientId } = useClient()
  const href = useHref()
  const { data: sources } = useQuery(sourcesQuery(clientId))
  const { data } = useQuery(mappingQuery(clientId, sources?.sources[0]?.source ?? ''))
  const [draft, setDraft] = useState<TaxCodeRow | null>(null)
  const codes = data?.taxCodes ?? []
  return (
    <Page
      links={<MappingLinks here="codes" />}
      title="Tax codes"
      facts={<span>how a rate is found in a price, and the account that owes it</span>}
      actions={
        <>
          <Link className="button-like" to={href('/mapping/tax/check')}>
            Check a month’s tax
          </Link>
          <Button disabled={!data} onClick={() => setDraft(blankTaxCode(data?.accounts ?? []))}>
            Add a tax code
          </Button>
        </>
      }
    >
      <table className="sheet" aria-label="Tax codes">
        <thead>
          <tr>
            <th>Code</th>
            <th>Name</th>
            <th>Country</th>
            <th>Treatment</th>
            <th>Basis</th>
            <th>Use</th>
            <th className="right">Rate, %</th>
            <th>From</th>
            <th>Account</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {codes.flatMap(code => [
            ...(code.components.length === 0
              ? [<Untaxed key={code.code} code={code} onChange={() => setDraft(code)} />]
              : []),
            ...code.components.flatMap((component, position) =>
              component.rates.map((rate, version) => (
                <tr key={`${code.code} ${position} ${rate.from}`}>
                  <td className="mono">{position + version === 0 ? code.code : ''}</td>
                  <td>{position + version === 0 ? code.name : ''}</td>
                  <td>{position + version === 0 ? (code.country ?? '') : ''}</td>
                  <td>{position + version === 0 ? treatmentWords[code.treatment] : ''}</td>
                  <td>
                    {code.reverseCharge
                      ? 'reverse charge'
                      : code.basis === 'inclusive'
                        ? 'within the price'
                        : code.basis === 'exclusive'
                          ? 'beside the price'
                          : 'none'}
                  </td>
                  <td>
                    {code.use}
                    {position + version === 0 ? <TakenBack code={code} /> : null}
                  </td>
                  <td className="right">{rate.percent}</td>
                  <td>{dateText(rate.from)}</td>
                  <td className="mono">
                    {component.account}
                    {component.inputAccount ? ` · ${component.inputAccount}` : ''}
                  </td>
                  <td>
                    {position + version === 0 ? (
                      <button type="button" className="linklike" onClick={() => setDraft(code)}>
                        Change
                      </button>
                    ) : null}
                  </td>
                </tr>
              )),
            ),
          ])}
          {codes.length === 0 ? (
            <tr>
              <td colSpan={10} className="muted">
                No tax codes yet.
              </td>
            </tr>
          ) : null}
        </tbody>
      </table>
      {draft && data ? (
        <TaxCodeDialog draft={draft} accounts={data.accounts} version={data.version} onClose={() => setDraft(null)} />
      ) : null}
    </Page>
  )
}

/** How much of the tax is taken back, where it is not all of it. */
const TakenBack = ({ code }: { readonly code: TaxCodeRow }) =>
  code.recovery.map(share => (
    <div key={share.from} className="muted small">
      {share.percent} % back from {dateText(share.from)}
    </div>
  ))

const Untaxed = ({ code, onChange }: { readonly code: TaxCodeRow; readonly onChange: () => void }) => (
  <tr>
    <td className="mono">{code.code}</td>
    <td>{code.name}</td>
    <td>{code.country ?? ''}</td>
    <td>{treatmentWords[code.treatment]}</td>
    <td>none</td>
    <td>{code.use}</td>
    <td colSpan={3} />
    <td>
      <button type="button" className="linklike" onClick={onChange}>
        Change
      </button>
    </td>
  </tr>
)

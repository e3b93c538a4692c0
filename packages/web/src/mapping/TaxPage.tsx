import { Button, chakra, Table } from '@chakra-ui/react'
import type { TaxCodeRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { mappingQuery, sourcesQuery } from '../context/sharedQueries.ts'
import { dateText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { blankTaxCode } from './blankTaxCode.ts'
import { MappingLinks } from './MappingLinks.tsx'
import { TaxCodeDialog, treatmentWords } from './TaxCodeDialog.tsx'

/** The tax codes with their rates by date. */
export const TaxPage = () => {
  const { clientId } = useClient()
  const href = useHref()
  const sources = useQuery(sourcesQuery(clientId))
  const query = useQuery(mappingQuery(clientId, sources.data?.sources[0]?.source ?? ''))
  const { data } = query
  const [draft, setDraft] = useState<TaxCodeRow | null>(null)
  const codes = data?.taxCodes ?? []
  return (
    <Page
      of={sources.data?.sources.length === 0 ? sources : query}
      links={<MappingLinks here="codes" />}
      title="Tax codes"
      facts={<span>how a rate is found in a price, and the account that owes it</span>}
      actions={
        <>
          <Button asChild>
            <Link to={href('/mapping/tax/check')}>Check a month’s tax</Link>
          </Button>
          <Button disabled={!data} onClick={() => setDraft(blankTaxCode(data?.accounts ?? []))}>
            Add a tax code
          </Button>
        </>
      }
    >
      <Table.Root aria-label="Tax codes">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>Code</Table.ColumnHeader>
            <Table.ColumnHeader>Name</Table.ColumnHeader>
            <Table.ColumnHeader>Country</Table.ColumnHeader>
            <Table.ColumnHeader>Treatment</Table.ColumnHeader>
            <Table.ColumnHeader>Basis</Table.ColumnHeader>
            <Table.ColumnHeader>Use</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Rate, %</Table.ColumnHeader>
            <Table.ColumnHeader>From</Table.ColumnHeader>
            <Table.ColumnHeader>Account</Table.ColumnHeader>
            <Table.ColumnHeader />
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {codes.flatMap(code => [
            ...(code.components.length === 0
              ? [<Untaxed key={code.code} code={code} onChange={() => setDraft(code)} />]
              : []),
            ...code.components.flatMap((component, position) =>
              component.rates.map((rate, version) => (
                <Table.Row key={`${code.code} ${position} ${rate.from}`}>
                  <Table.Cell textStyle="mono">{position + version === 0 ? code.code : ''}</Table.Cell>
                  <Table.Cell>{position + version === 0 ? code.name : ''}</Table.Cell>
                  <Table.Cell>{position + version === 0 ? (code.country ?? '') : ''}</Table.Cell>
                  <Table.Cell>{position + version === 0 ? treatmentWords[code.treatment] : ''}</Table.Cell>
                  <Table.Cell>
                    {code.reverseCharge
                      ? 'reverse charge'
                      : code.basis === 'inclusive'
                        ? 'within the price'
                        : code.basis === 'exclusive'
                          ? 'beside the price'
                          : 'none'}
                  </Table.Cell>
                  <Table.Cell>
                    {code.use}
                    {position + version === 0 ? <TakenBack code={code} /> : null}
                  </Table.Cell>
                  <Table.Cell textAlign="end">{rate.percent}</Table.Cell>
                  <Table.Cell>{dateText(rate.from)}</Table.Cell>
                  <Table.Cell textStyle="mono">
                    {component.account}
                    {component.inputAccount ? ` · ${component.inputAccount}` : ''}
                  </Table.Cell>
                  <Table.Cell>
                    {position + version === 0 ? (
                      <Button variant="ghost" onClick={() => setDraft(code)}>
                        Change
                      </Button>
                    ) : null}
                  </Table.Cell>
                </Table.Row>
              )),
            ),
          ])}
          {codes.length === 0 ? (
            <Table.Row>
              <Table.Cell colSpan={10} color="muted">
                No tax codes yet.
              </Table.Cell>
            </Table.Row>
          ) : null}
        </Table.Body>
      </Table.Root>
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

const Untaxed = ({ code, onChange }: { readonly code: TaxCodeRow; readonly onChange: () => void }) => (
  <Table.Row>
    <Table.Cell textStyle="mono">{code.code}</Table.Cell>
    <Table.Cell>{code.name}</Table.Cell>
    <Table.Cell>{code.country ?? ''}</Table.Cell>
    <Table.Cell>{treatmentWords[code.treatment]}</Table.Cell>
    <Table.Cell>none</Table.Cell>
    <Table.Cell>{code.use}</Table.Cell>
    <Table.Cell colSpan={3} />
    <Table.Cell>
      <Button variant="ghost" onClick={onChange}>
        Change
      </Button>
    </Table.Cell>
  </Table.Row>
)

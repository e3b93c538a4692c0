import { Box, Flex } from '@chakra-ui/react'
import type { TaxCodeRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../course/ClientContext.tsx'
import { sourcesQuery } from '../sources/sourceQueries.ts'
import { Button } from '../ui/Button.tsx'
import { dateText } from '../ui/formats.ts'
import { Input, Select } from '../ui/Input.tsx'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { mappingQuery, useMappingActs } from './mappingQueries.ts'

/** The tax codes with their rates by date. */
export const TaxPage = () => {
  const { clientId } = useClient()
  const href = useHref()
  const { data: sources } = useQuery(sourcesQuery(clientId))
  const { data } = useQuery(mappingQuery(clientId, sources?.sources[0]?.source ?? ''))
  const [draft, setDraft] = useState<TaxCodeRow | null>(null)
  const codes = data?.taxCodes ?? []
  const blank: TaxCodeRow = {
    code: '',
    name: '',
    basis: 'inclusive',
    use: 'sales',
    treatment: 'taxed',
    reverseCharge: false,
    components: [
      {
        name: 'VAT',
        account: data?.accounts.find(account => account.type === 'tax')?.code ?? '',
        inputAccount: null,
        compound: false,
        rates: [{ from: '2020-01-01', percent: '' }],
      },
    ],
  }
  return (
    <Page
      links={
        <>
          <Link to={href('/mapping')}>Routes</Link>
          <Link to={href('/mapping/tax')} aria-current="page">
            Tax
          </Link>
        </>
      }
      title="Tax codes"
      facts={<span>how a rate is found in a price, and the account that owes it</span>}
      actions={
        <Button disabled={!data} onClick={() => setDraft(blank)}>
          Add a tax code
        </Button>
      }
    >
      <table className="sheet" aria-label="Tax codes">
        <thead>
          <tr>
            <th>Code</th>
            <th>Name</th>
            <th>Basis</th>
            <th>Use</th>
            <th className="right">Rate, %</th>
            <th>From</th>
            <th>Account</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {codes.flatMap(code =>
            code.components.flatMap((component, position) =>
              component.rates.map((rate, version) => (
                <tr key={`${code.code} ${position} ${rate.from}`}>
                  <td className="mono">{position + version === 0 ? code.code : ''}</td>
                  <td>{position + version === 0 ? code.name : ''}</td>
                  <td>
                    {code.reverseCharge
                      ? 'reverse charge'
                      : code.basis === 'inclusive'
                        ? 'within the price'
                        : code.basis === 'exclusive'
                          ? 'beside the price'
                          : 'none'}
                  </td>
                  <td>{code.use}</td>
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
          )}
          {codes.length === 0 ? (
            <tr>
              <td colSpan={8} className="muted">
                No tax codes yet.
              </td>
            </tr>
          ) : null}
        </tbody>
      </table>
      {draft && data ? <TaxCodeDialog draft={draft} accounts={data.accounts} onClose={() => setDraft(null)} /> : null}
    </Page>
  )
}

const TaxCodeDialog = ({
  draft,
  accounts,
  onClose,
}: {
  readonly draft: TaxCodeRow
  readonly accounts: readonly { code: string; name: string; type: string }[]
  readonly onClose: () => void
}) => {
  const { clientId } = useClient()
  const { saveTaxCodes } = useMappingActs(clientId)
  const notice = useNotice()
  const [code, setCode] = useState(draft)
  const [component] = code.components
  if (!component) return null
  const change = (part: Partial<typeof component>) =>
    setCode({ ...code, components: [{ ...component, ...part }, ...code.components.slice(1)] })
  const whole =
    code.code.trim() !== '' &&
    component.account !== '' &&
    component.rates.every(rate => /^\d+(\.\d+)?$/.test(rate.percent) && /^\d{4}-\d\d-\d\d$/.test(rate.from))
  const field = { display: 'block', w: '100%', mt: '2px', mb: '8px' } as const
  return (
    <Modal
      open
      onClose={onClose}
      title={draft.code ? `Tax code ${draft.code}` : 'Add a tax code'}
      foot={
        <>
          <Button onClick={onClose}>Leave it</Button>
          <Button
            look="main"
            disabled={!whole || saveTaxCodes.isPending}
            onClick={() => saveTaxCodes.mutate([code], { onSuccess: onClose, onError: notice.refuse })}
          >
            Save tax code
          </Button>
        </>
      }
    >
      <Flex gap="12px">
        <Box as="label" w="110px">
          Code
          <Input
            {...field}
            value={code.code}
            disabled={draft.code !== ''}
            onChange={event => setCode({ ...code, code: event.target.value })}
          />
        </Box>
        <Box as="label" flex="1">
          Name
          <Input {...field} value={code.name} onChange={event => setCode({ ...code, name: event.target.value })} />
        </Box>
      </Flex>
      <Flex gap="12px">
        <Box as="label" flex="1">
          Basis
          <Select
            {...field}
            value={code.basis}
            onChange={event => setCode({ ...code, basis: event.target.value as TaxCodeRow['basis'] })}
          >
            <option value="inclusive">within the price</option>
            <option value="exclusive">beside the price</option>
            <option value="none">none</option>
          </Select>
        </Box>
        <Box as="label" flex="1">
          Account
          <Select {...field} value={component.account} onChange={event => change({ account: event.target.value })}>
            {accounts
              .filter(account => account.type === 'tax')
              .map(account => (
                <option key={account.code} value={account.code}>
                  {account.code} {account.name}
                </option>
              ))}
          </Select>
        </Box>
      </Flex>
      {component.rates.map((rate, index) => (
        <Flex key={index} gap="12px">
          <Box as="label" w="120px">
            Rate, %
            <Input
              {...field}
              inputMode="decimal"
              value={rate.percent}
              onChange={event =>
                change({
                  rates: component.rates.map((one, at) =>
                    at === index ? { ...one, percent: event.target.value } : one,
                  ),
                })
              }
            />
          </Box>
          <Box as="label" flex="1">
            From
            <Input
              {...field}
              type="date"
              value={rate.from}
              onChange={event =>
                change({
                  rates: component.rates.map((one, at) => (at === index ? { ...one, from: event.target.value } : one)),
                })
              }
            />
          </Box>
        </Flex>
      ))}
      <Button look="quiet" onClick={() => change({ rates: [...component.rates, { from: '', percent: '' }] })}>
        Add a rate from a later date
      </Button>
    </Modal>
  )
}

import { Box, Flex } from '@chakra-ui/react'
import type { MappingPage as MappingFacts, RouteBody, SeenRow } from '@culvert/contract'
import { kinds } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { useClient, useHref } from '../course/ClientContext.tsx'
import { sourcesQuery } from '../sources/sourceQueries.ts'
import { Amount } from '../ui/Amount.tsx'
import { Button } from '../ui/Button.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { amountText, countText, currencySign, rangeText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { AccountPicker, type OtherTarget } from './AccountPicker.tsx'
import { MappingLinks } from './MappingLinks.tsx'
import { mappingQuery, useMappingActs } from './mappingQueries.ts'
import { newRoute } from './newRoute.ts'
import { TaxCodePicker } from './TaxCodePicker.tsx'

/** The routes of a source: kinds seen in the data, heaviest first, each with its account, tax code and why. */
export const MappingPage = () => {
  const { clientId } = useClient()
  const { source } = useParams()
  const { data: sources } = useQuery(sourcesQuery(clientId))
  const chosen = source ?? sources?.sources[0]?.source ?? ''
  const { data, error } = useQuery(mappingQuery(clientId, chosen))
  if (error)
    return (
      <Page links={<MappingLinks here="routes" />} title="Mapping">
        <span role="alert" className="crimson">
          {error.message}
        </span>
      </Page>
    )
  if (sources && sources.sources.length === 0)
    return (
      <Page links={<MappingLinks here="routes" />} title="Mapping">
        Once a source is connected and pulled, every kind of movement it reports stands here, with the account it goes
        to.
      </Page>
    )
  return data ? <Routes key={data.source} page={data} /> : null
}

interface Edit {
  readonly account: string | null
  readonly item: string | null
  readonly elsewhere: boolean
  readonly taxCode: string | null
}
const editOf = ({ route }: SeenRow): Edit => ({
  account: route?.account ?? null,
  item: route?.item ?? null,
  elsewhere: route?.elsewhere ?? false,
  taxCode: route?.taxCode ?? null,
})
const isWhole = (edit: Edit): boolean => edit.account !== null || edit.item !== null || edit.elsewhere

const keyOf = (row: SeenRow): string => `${row.kind}|${row.category ?? ''}|${row.region ?? ''}`
const isPayoutKind = (row: SeenRow): boolean => row.kind === 'payout' || row.kind === 'payout_returned'

// A row's route names what the row names: a narrower one leaves the wider route alone.
const routeOf = (row: SeenRow, edit: Edit): RouteBody => ({
  ...(row.route ?? { ...newRoute(row.kind), category: row.category, region: row.region }),
  ...edit,
})

const otherTargets = (page: MappingFacts): OtherTarget[] => [
  ...page.items.map(item => ({ key: item.code, title: `Item ${item.code}`, detail: item.name })),
  { key: elsewhere, title: 'Booked elsewhere', detail: 'by another document; left out here' },
]
const elsewhere = ' elsewhere'

const Routes = ({ page }: { readonly page: MappingFacts }) => {
  const { clientId, locale } = useClient()
  const href = useHref()
  const [search] = useSearchParams()
  const notice = useNotice()
  const { save } = useMappingActs(clientId)
  const [edits, setEdits] = useState<ReadonlyMap<string, Edit>>(new Map())
  const [unseenOpen, setUnseenOpen] = useState(false)
  const marked = Number(search.get('route'))
  const heaviest = useMemo(() => Math.max(1, ...page.rows.map(row => Math.abs(row.amount))), [page.rows])
  const edit = (row: SeenRow, change: Partial<Edit>): void => {
    const before = edits.get(keyOf(row)) ?? editOf(row)
    setEdits(new Map(edits).set(keyOf(row), { ...before, ...change }))
  }
  const ready = [...edits].filter(([, one]) => isWhole(one))
  const others = useMemo(() => otherTargets(page), [page])
  const store = (): void => {
    if (ready.length === 0 || save.isPending) return
    const changed = ready.flatMap(([key, one]) => {
      const row = page.rows.find(candidate => keyOf(candidate) === key)
      return row ? [routeOf(row, one)] : []
    })
    save.mutate(
      { changed },
      {
        onError: notice.refuse,
        onSuccess: saved => {
          setEdits(new Map())
          const warned = saved.warnings.filter(warning => changed.some(route => route.account === warning.account))
          notice.say(
            `Saved as version ${saved.version} of the map. ${countText(saved.unblocked, 'settlement')} no longer blocked.${
              warned.length > 0
                ? ` Unusual: ${warned.map(one => `${one.account} is of type ${one.type.replace('_', ' ')}`).join(', ')}.`
                : ''
            }`,
          )
        },
      },
    )
  }
  useKey('ctrl+s', store)
  const unmapped = page.rows.filter(row => row.unmapped)
  return (
    <Page
      links={<MappingLinks here="routes" />}
      title={page.sourceName}
      facts={
        <span>
          {countText(page.rows.length, 'kind and category seen', 'kinds and categories seen')} ·{' '}
          {page.rows.length - unmapped.length} routed · 13 weeks, {rangeText(page.from, page.to)}
        </span>
      }
      actions={
        unmapped.length > 0 ? (
          <Link className="button-like" to={href(`/mapping/${page.source}/starter`)}>
            Propose routes for {unmapped.length}
          </Link>
        ) : null
      }
    >
      <table className="sheet" aria-label={`Routes of ${page.sourceName}`} style={{ tableLayout: 'fixed' }}>
        <thead>
          <tr>
            <th style={{ width: 250 }}>What {page.sourceName} reports</th>
            <th className="right" style={{ width: 172 }}>
              13 weeks, {page.currency}
            </th>
            <th style={{ width: 274 }}>Goes to</th>
            <th style={{ width: 110 }}>Tax</th>
            <th>Why, and a line of it</th>
          </tr>
        </thead>
        <tbody>
          {page.rows.map(row => {
            const edited = edits.get(keyOf(row))
            const value = edited ?? editOf(row)
            const indented =
              row.narrow || (row.unmapped && page.rows.some(other => other.kind === row.kind && other !== row))
            return (
              <tr
                key={keyOf(row)}
                className={
                  edited ? 'selected' : row.unmapped ? 'waiting' : row.route?.routeId === marked ? 'active' : ''
                }
              >
                <td style={indented && !row.unmapped ? { paddingLeft: 34 } : undefined}>
                  {row.unmapped ? (
                    <span className="ochre" aria-hidden="true">
                      ◆{' '}
                    </span>
                  ) : null}
                  <RowName row={row} indented={indented} />
                  {row.unmapped ? <span className="visually-hidden"> not mapped</span> : null}
                </td>
                <td className="right">
                  <span
                    className="money-bar"
                    aria-hidden="true"
                    style={{ width: Math.max(1, Math.round(48 * Math.sqrt(Math.abs(row.amount) / heaviest))) }}
                  />
                  <Amount
                    minor={row.amount}
                    currency={page.currency}
                    className={row.narrow ? '' : 'strong'}
                    trace={{
                      at: 'kind',
                      source: page.source,
                      kind: row.kind,
                      ...(row.category ? { category: row.category } : {}),
                      ...(row.region ? { region: row.region } : {}),
                    }}
                  />
                </td>
                <td className="picks">
                  {isPayoutKind(row) ? (
                    <span className="muted" style={{ paddingLeft: 9 }}>
                      the bank accounts of the source
                    </span>
                  ) : (
                    <AccountPicker
                      label={`Account for ${nameOf(row)}`}
                      kind={row.kind}
                      accounts={page.accounts}
                      value={value.account}
                      onChange={account => edit(row, { account, item: null, elsewhere: false })}
                      others={others}
                      other={value.elsewhere ? elsewhere : value.item}
                      onOther={key =>
                        edit(row, {
                          account: null,
                          item: key === elsewhere ? null : key,
                          elsewhere: key === elsewhere,
                          ...(key === elsewhere && { taxCode: null }),
                        })
                      }
                    />
                  )}
                </td>
                <td className="picks">
                  {isPayoutKind(row) ? (
                    <span className="muted" style={{ paddingLeft: 9 }}>
                      –
                    </span>
                  ) : (
                    <TaxCodePicker
                      label={`Tax code for ${nameOf(row)}`}
                      codes={page.taxCodes}
                      value={value.taxCode}
                      onChange={taxCode => edit(row, { taxCode })}
                    />
                  )}
                </td>
                <td className="small" title={kinds[row.kind].meaning}>
                  {row.unmapped && row.proposal && !edited ? (
                    <button
                      type="button"
                      className="linklike"
                      onClick={() => edit(row, { account: row.proposal?.account ?? null })}
                    >
                      propose {row.proposal.account}{' '}
                      {page.accounts.find(account => account.code === row.proposal?.account)?.name}, for “
                      {row.proposal.words.join(', ')}”
                    </button>
                  ) : row.narrow ? (
                    <span className="muted">
                      narrower: by {[row.category && 'category', row.region && 'region'].filter(Boolean).join(' and ')}
                    </span>
                  ) : (
                    <span className="muted">{kinds[row.kind].meaning}</span>
                  )}
                  {row.sample && !row.region ? (
                    <span>
                      {' '}
                      · <span className="mono">{row.sample.lineId}</span>
                      {row.sample.description ? ` “${row.sample.description}”` : ''}{' '}
                      {amountText(row.sample.amount, page.currency, locale)}
                    </span>
                  ) : null}
                </td>
              </tr>
            )
          })}
          <tr>
            <td colSpan={5}>
              <button
                type="button"
                className="linklike"
                aria-expanded={unseenOpen}
                onClick={() => setUnseenOpen(!unseenOpen)}
              >
                <span aria-hidden="true">{unseenOpen ? '▾' : '▸'} </span>
                {countText(page.unseen.length, 'kind')} that {page.sourceName} has not reported
              </button>
            </td>
          </tr>
          {unseenOpen
            ? page.unseen.map(kind => (
                <tr key={kind}>
                  <td className="muted">{kinds[kind].label}</td>
                  <td colSpan={4} className="small muted">
                    {kinds[kind].meaning}
                  </td>
                </tr>
              ))
            : null}
        </tbody>
      </table>
      <FootBar>
        <Button look="main" disabled={ready.length === 0 || save.isPending} onClick={store}>
          Save {countText(ready.length, 'route')}
        </Button>
        {edits.size > 0 ? <Button onClick={() => setEdits(new Map())}>Forget changes</Button> : null}
        <Flex className="muted" flex="1" gap="6px">
          {page.waiting.settlements > 0 ? (
            <Box>
              {countText(page.waiting.settlements, 'settlement')} blocked, {currencySign(page.currency)}{' '}
              {amountText(page.waiting.amount, page.currency, locale)} gross. Saving composes anew what is not posted;
              what is posted stays as it is.
            </Box>
          ) : (
            <Box>
              Nothing of {page.sourceName} is blocked. Saving composes anew what is not posted; what is posted stays as
              it is.
            </Box>
          )}
        </Flex>
      </FootBar>
    </Page>
  )
}

const nameOf = (row: SeenRow): string =>
  [kinds[row.kind].label, row.category, row.region && `to ${row.region}`].filter(Boolean).join(' · ')

const RowName = ({ row, indented }: { readonly row: SeenRow; readonly indented: boolean }) => {
  const narrow = [row.category, row.region && `to ${row.region}`].filter(Boolean).join(', ')
  if (indented && !row.unmapped && narrow) return <>{narrow}</>
  return (
    <>
      <span className="strong">{kinds[row.kind].label}</span>
      {narrow ? (
        <>
          {' '}
          · <i>{narrow}</i>
        </>
      ) : null}
    </>
  )
}

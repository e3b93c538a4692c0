import { Box, Button, Flex, Grid, Span } from '@chakra-ui/react'
import type { AccountRow, GrantRow, ServiceSort, ShopRow, SourceRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { sourcesQuery } from '../context/sharedQueries.ts'
import { Choices } from '../ui/form/Choices.tsx'
import { onSubmit } from '../ui/form/onSubmit.ts'
import { dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { Select } from '../ui/Select.tsx'
import { shopsQuery, useGrantActs } from './grantQueries.ts'
import { fitText, neverText, scopesText } from './grantText.ts'
import { SourceFields, sourceOf, useSourceForm } from './SourceFields.tsx'
import { accountsQuery } from './sourceQueries.ts'
import { UseBank, UseLedger } from './UseOther.tsx'

/** After signing in at a service: which of its shops this client's is, and the accounts that its money passes through. */
export const ShopPage = () => {
  const { grant: grantId = '' } = useParams()
  const { clientId } = useClient()
  const href = useHref()
  const query = useQuery(shopsQuery(clientId, grantId))
  const chart = useQuery(accountsQuery(clientId))
  const sources = useQuery(sourcesQuery(clientId))
  const { data } = query
  const links = (
    <>
      <Link to={href('/sources')}>Sources</Link>
      <Link to={href('/sources/customers')}>Customers</Link>
    </>
  )
  if (!data || !chart.data || !sources.data)
    return <Page links={links} title="Choose the shop" of={!data ? query : chart.data ? sources : chart} />
  return (
    <Page
      links={links}
      title={`Choose the ${thingOf[data.grant.sort] ?? 'shop'} at ${data.grant.name}`}
      facts={
        <span>
          signed in as {data.grant.login}; {factsOf(data.grant)}
        </span>
      }
    >
      {data.shops.length === 0 ? (
        <Box bg="ochre.wash" borderWidth="1px" borderColor="ochre" px="12px" py="8px">
          The login {data.grant.login} holds no {thingOf[data.grant.sort] ?? 'shop'}. Sign in there as who does: end
          this at <Link to={href('/sources')}>Sources</Link>, and connect again.
        </Box>
      ) : (
        <ShopForm {...data} accounts={chart.data.accounts} sources={sources.data.sources} />
      )}
    </Page>
  )
}

/** What a login holds, where it is no shop. */
const thingOf: Partial<Record<GrantRow['sort'], string>> = { bank: 'account', ledger: 'company' }
const factsOf = ({ sort }: GrantRow): string =>
  sort === 'ledger'
    ? 'its lists can be brought over then; nothing of it is taken by itself'
    : sort === 'bank'
      ? 'an account serves one client'
      : 'a source is one shop and serves one client'

// Two sources of one service are told apart by their shops.
const nameOf = (grant: GrantRow, shop: ShopRow, taken: readonly string[]): string =>
  taken.includes(grant.name) ? `${grant.name} ${shop.name}` : grant.name

const sourceSort = (sort: GrantRow['sort']): ServiceSort =>
  sort === 'bank' || sort === 'ledger' ? 'marketplace' : sort

/** One that nothing speaks against; of another country or currency one is chosen by a person. */
const isLikely = ({ serves, fit }: ShopRow): boolean =>
  serves === null && !fit.includes('other_country') && !fit.includes('other_currency')

interface ShopFormProps {
  readonly grant: GrantRow
  readonly shops: readonly ShopRow[]
  readonly accounts: readonly AccountRow[]
  readonly sources: readonly SourceRow[]
}

const ShopForm = ({ grant, shops, accounts, sources }: ShopFormProps) => {
  const [shopId, setShopId] = useState(shops.find(isLikely)?.id ?? '')
  const shop = shops.find(one => one.id === shopId) ?? null
  return (
    <Grid templateColumns={{ base: '1fr', lg: '1fr 380px' }} gap="24px">
      <Box>
        <Box bg="sheet" borderWidth="1px" borderColor="hairline" px="14px" py="8px" mb="16px">
          <Choices
            label={thingOf[grant.sort] === undefined ? 'Shop' : grant.sort === 'bank' ? 'Account' : 'Company'}
            value={shopId || null}
            onChange={setShopId}
            choices={shops.map(one => ({
              value: one.id,
              disabled: one.serves !== null,
              text: (
                <Span fontWeight="600">
                  {one.name}
                  <Span fontWeight="400" color="muted" ml="10px">
                    {[one.place, one.currency].filter(Boolean).join(', ')}
                  </Span>
                </Span>
              ),
              detail: [
                thingOf[grant.sort] === undefined ? `${one.orders.toLocaleString('en-IE')} orders` : '',
                one.lastDay ? `last ${dateText(one.lastDay)}` : '',
                fitText(one),
              ]
                .filter(Boolean)
                .join(' · '),
            }))}
          />
        </Box>
        {shop && grant.sort === 'bank' ? (
          <UseBank key={shop.id} {...{ grant, shop, accounts }} />
        ) : shop && grant.sort === 'ledger' ? (
          <UseLedger key={shop.id} {...{ grant, shop }} />
        ) : shop ? (
          <UseShop key={shop.id} {...{ grant, shop, accounts, sources }} />
        ) : (
          <Box color="muted">
            {shops.some(one => one.serves === null)
              ? 'None of them fits this client by country and currency: choose the one that is meant.'
              : 'Everything of this login serves a client already.'}
          </Box>
        )}
      </Box>
      <Allowed grant={grant} />
    </Grid>
  )
}

const Allowed = ({ grant }: { readonly grant: GrantRow }) => (
  <Box>
    <Box as="h2" fontWeight="600" mb="6px">
      What the grant allows
    </Box>
    <Box mb="6px">
      <Span fontWeight="600">Reads</Span> {scopesText(grant.scopes)}.
    </Box>
    {grant.lacking.length > 0 ? (
      <Box mb="6px" color="ochre">
        ◆ Was not granted: {scopesText(grant.lacking)}. It comes as files, or is connected again with it.
      </Box>
    ) : null}
    <Box mb="6px">
      <Span fontWeight="600">Never</Span> {neverText(grant.scopes)}.
    </Box>
    <Box color="muted">
      {grant.until ? `Lasts until ${dateText(grant.until.slice(0, 10))}. ` : ''}Ends at once when ended here.
    </Box>
  </Box>
)

const UseShop = ({
  grant,
  shop,
  accounts,
  sources,
}: {
  readonly grant: GrantRow
  readonly shop: ShopRow
  readonly accounts: readonly AccountRow[]
  readonly sources: readonly SourceRow[]
}) => {
  const { clientId, base } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const notice = useNotice()
  const { use, attach } = useGrantActs(clientId)
  const byFile = sources.filter(source => !source.connected)
  const [into, setInto] = useState('')
  const form = useSourceForm(accounts, {
    name: nameOf(
      grant,
      shop,
      sources.map(source => source.name),
    ),
    service: sourceSort(grant.sort),
    currency: shop.currency || base,
    personalData: grant.scopes.includes('buyers') ? 'name' : 'none',
  })
  const done = (source: string) => ({
    onError: notice.refuse,
    onSuccess: () => {
      notice.say(`${shop.name} is connected.`)
      void navigate(href(`/sources/${source}`), { replace: true })
    },
  })
  const store = form.handleSubmit(wanted => {
    const source = sourceOf(wanted, accounts)
    use.mutate({ grant: grant.grantId, source: { ...source, shop: shop.id } }, done(source.source))
  })
  const busy = use.isPending || attach.isPending
  return (
    <form
      noValidate
      onSubmit={onSubmit(busy, async () => {
        if (into === '') await store()
        else attach.mutate({ grant: grant.grantId, source: into, shop: shop.id }, done(into))
      })}
    >
      <Box maxW="560px">
        {byFile.length > 0 ? (
          <Box mb="12px">
            <Select aria-label="It becomes" w="100%" value={into} onChange={event => setInto(event.target.value)}>
              <option value="">a new source</option>
              {byFile.map(source => (
                <option key={source.source} value={source.source}>
                  {source.name}, whose activity came as files
                </option>
              ))}
            </Select>
          </Box>
        ) : null}
        {into === '' ? (
          <SourceFields form={form} accounts={accounts} told nobody={!grant.scopes.includes('buyers')} />
        ) : (
          <Box color="muted">
            What came as files stays; a line that comes again under the same id is known, under another it is a second
            one. Nothing is pulled until you press Pull.
          </Box>
        )}
        <Flex mt="16px" gap="12px" align="center">
          <Button type="submit" variant="solid" disabled={busy}>
            Use {shop.name}
          </Button>
          <Span color="muted" textStyle="small">
            {into === ''
              ? `Pulls ${shop.orders.toLocaleString('en-IE')} orders${shop.firstDay ? ` from ${dateText(shop.firstDay)} on` : ''}. Posts nothing.`
              : 'Changes nothing that is there.'}
          </Span>
        </Flex>
      </Box>
    </form>
  )
}

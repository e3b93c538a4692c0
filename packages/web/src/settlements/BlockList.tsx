import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { SettlementPage } from '@culvert/contract'
import { isCollection, isSupply } from '@culvert/core'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { kindText, reasonText } from '../ui/words.ts'
import { QuickRate } from './QuickRate.tsx'
import { QuickRoute } from './QuickRoute.tsx'
import { useSettlementActs } from './settlementQueries.ts'

/** All reasons that hold a settlement up, each with its money and a way to mend it on the spot. */
export const BlockList = ({ page }: { readonly page: SettlementPage }) => {
  const href = useHref()
  if (page.state !== 'blocked') return null
  return (
    <Box
      as="section"
      aria-label="What blocks it"
      mb="12px"
      bg="ochre.wash"
      borderWidth="1px"
      borderColor="ochre"
      px="12px"
      py="8px"
    >
      {page.blocks.map(block => (
        <Box key={block.reason} py="3px">
          <Flex gap="12px" align="center" wrap="wrap">
            <Span color="ochre" fontWeight="600">
              ◆ {reasonText(block.reason)}
            </Span>
            {block.reason === 'out_of_range' ? null : (
              <Amount minor={block.amount} currency={page.currency} signed fontWeight="600" />
            )}
            <Span textStyle="small">{advice(block, page)}</Span>
            {block.reason === 'account_unusable' ? (
              <PageLink textStyle="small" to={href('/mapping/missing')}>
                see what is missing
              </PageLink>
            ) : null}
            {block.orders ? <OpenOrdersOf orders={block.orders} currency={page.currency} /> : null}
            {block.entry ? <Double page={page} entry={block.entry} /> : null}
          </Flex>
          {block.reason === 'rate_missing' && page.entryDate ? (
            <QuickRate currency={page.currency} entryDate={page.entryDate} />
          ) : null}
          {block.reason === 'unmapped' || block.reason === 'tax_code_missing' || block.reason === 'account_unusable'
            ? block.concerned.map(one => (
                <Flex key={`${one.kind} ${one.category}`} gap="12px" align="center" mt="4px" wrap="wrap">
                  <Box minW="230px">
                    {kindText(one.kind, one.category)} <Span color="muted">{countText(one.count, 'line')}</Span>
                  </Box>
                  <Box minW="80px" textAlign="right">
                    <Amount
                      minor={one.amount}
                      currency={page.currency}
                      trace={{
                        at: 'statement',
                        source: page.source,
                        key: page.key,
                        currency: page.currency,
                        kind: one.kind,
                        ...(one.category ? { category: one.category } : {}),
                      }}
                    />
                  </Box>
                  {block.reason === 'unmapped' && isCollection(one.kind) && page.channels.length > 0 ? (
                    <ReportMissing page={page} />
                  ) : (
                    <>
                      {block.reason === 'unmapped' && one.kind !== 'payout' ? (
                        <QuickRoute source={page.source} kind={one.kind} category={one.category} />
                      ) : null}
                      {block.reason === 'tax_code_missing' && isSupply(one.kind) ? (
                        <PageLink textStyle="small" to={href('/mapping/tax')}>
                          decide it in the tax grid
                        </PageLink>
                      ) : (
                        <PageLink textStyle="small" to={href(`/mapping/${encodeURIComponent(page.source)}`)}>
                          on the Mapping page
                        </PageLink>
                      )}
                    </>
                  )}
                </Flex>
              ))
            : null}
        </Box>
      ))}
    </Box>
  )
}

/** Collections whose order is open at its channel: decided among the payments. */
const OpenOrdersOf = ({
  orders,
  currency,
}: {
  readonly orders: NonNullable<SettlementPage['blocks'][number]['orders']>
  readonly currency: string
}) => {
  const href = useHref()
  return (
    <Span textStyle="small">
      {orders.map(({ lineId, source, order, amount }) => (
        <Span key={lineId} mr="12px">
          order {order} of {source}, <Amount minor={amount} currency={currency} />
        </Span>
      ))}
      <PageLink to={href('/payments')}>decide in Payments</PageLink>
    </Span>
  )
}

const Double = ({ page, entry }: { readonly page: SettlementPage; readonly entry: string }) => {
  const { clientId } = useClient()
  const href = useHref()
  const notice = useNotice()
  const { sayNoDouble } = useSettlementActs(clientId)
  return (
    <>
      <PageLink textStyle="small" to={href(`/books/entries/${entry}`)}>
        entry {entry}
      </PageLink>
      <Button
        variant="plain"
        disabled={sayNoDouble.isPending}
        onClick={() =>
          sayNoDouble.mutate([{ source: page.source, key: page.key, currency: page.currency }], {
            onError: notice.refuse,
          })
        }
      >
        It is no double
      </Button>
    </>
  )
}

/** Collections without an order are not mapped: booked by a route they would be sales twice once the shop's report comes. */
const ReportMissing = ({ page }: { readonly page: SettlementPage }) => {
  const href = useHref()
  const days = page.from === page.to ? dateText(page.to) : `${dateText(page.from)} to ${dateText(page.to)}`
  return (
    <Span textStyle="small">
      {page.channels.map((channel, index) => (
        <span key={channel.source}>
          {index > 0 ? ' · ' : ''}
          {channel.name}’s report of {days} is missing, or lacks these orders
          {channel.pulledTo ? ` (known to ${dateText(channel.pulledTo)})` : ''}:{' '}
          <Link to={href(`/sources/${encodeURIComponent(channel.source)}`)} style={{ textDecoration: 'underline' }}>
            bring it in
          </Link>
        </span>
      ))}
    </Span>
  )
}

const advice = (block: SettlementPage['blocks'][number], page: SettlementPage): string => {
  const { reason, awaits } = block
  switch (reason) {
    case 'awaits_channel':
      return `orders behind these collections may still come: pull ${(awaits ?? []).map(channel => `${channel.source} (known to ${dateText(channel.pulledTo)})`).join(', ')}.`
    case 'order_open':
      return 'no tender was reported for what was collected here, and an order of the same amount is open: most likely the same sale.'
    case 'does_not_foot':
      return `its closing balance less opening balance and lines; something of it is missing or twice. Pull ${page.sourceName} again, or set it aside.`
    case 'unmapped':
      return page.channels.length > 0 && block.concerned.every(one => isCollection(one.kind))
        ? 'no order explains these collections yet.'
        : 'these kinds have no route yet.'
    case 'tax_code_missing':
      return 'nothing says which tax these bear.'
    case 'account_unusable':
      return block.concerned.length > 0
        ? 'these go to an account that cannot take them.'
        : 'the account for what rounding leaves, or one that it goes through, is missing.'
    case 'rate_missing':
      return 'no exchange rate is known on or before its date.'
    case 'likely_double':
      return 'an entry of this amount and date stands on the clearing account already:'
    case 'awaits_lines':
      return `pull ${page.sourceName} again.`
    default:
      return ''
  }
}

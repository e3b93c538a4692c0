import { Box, Button, Flex, Span, Table } from '@chakra-ui/react'
import { type Overview, type Session, stageNames } from '@culvert/contract'
import { CourseMark, courseTones } from '../ui/CourseMark.tsx'
import { amountText, currencySign, dateText, momentText, monthText, zoneText } from '../ui/formats.ts'
import { PageLink } from '../ui/PageLink.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { stageLabels, stageSaying } from '../ui/stages.ts'
import type { Waiting } from './urgency.ts'

type Client = Session['clients'][number]

/** A client with what waits in it, the most urgent first. */
export interface ClientOfTable {
  readonly client: Client
  readonly overview: Overview | undefined
  readonly waiting: readonly Waiting[]
  readonly unfolded: boolean
}

const linkIn = ({ clientId }: Client, link: string): string => `/c/${clientId}${link}`

/** Where one goes on in a client: where it is most urgent. */
export const urgentLink = ({ client, waiting }: ClientOfTable): string =>
  linkIn(client, waiting[0]?.link ?? '/settlements')

const money = (amount: number, { base, locale }: Client): string =>
  `${currencySign(base)} ${amountText(amount, base, locale)}`

const urgentText = (urgent: Waiting, client: Client): string => {
  const mark = urgent.saying.tone === 'fail' ? '▲ ' : urgent.saying.tone === 'warn' ? '◆ ' : ''
  const sum = urgent.saying.money ? `${money(urgent.amount, client)} ` : ''
  return `${mark}${urgent.label}: ${sum}${urgent.saying.text}${urgent.heaviest ? ` · ${urgent.heaviest}` : ''}`
}

/** The columns of the clients: what is most urgent, a course, what came in last, what is closed. */
export const clientColumns = (onUnfold: (client: Client) => void): readonly SheetColumn<ClientOfTable>[] => [
  {
    id: 'client',
    head: 'Client, and what is most urgent in it',
    wraps: true,
    top: true,
    value: ({ client }) => client.name,
    cell: row => <Named row={row} onUnfold={() => onUnfold(row.client)} />,
  },
  ...stageNames.map(
    (stage, place): SheetColumn<ClientOfTable> => ({
      id: stage,
      head: stageLabels[stage],
      width: '90px',
      wraps: true,
      flush: true,
      value: ({ client }) => client.stages.find(one => one.stage === stage)?.waiting ?? 0,
      cell: ({ client }) => <StageOf client={client} stage={stage} last={place === stageNames.length - 1} />,
    }),
  ),
  {
    id: 'came',
    head: 'Last came in',
    width: '122px',
    wraps: true,
    top: true,
    value: ({ overview }) => overview?.lastCame ?? '',
    cell: ({ client, overview }) => (
      <Span textStyle="small">
        {overview ? (overview.lastCame ? momentText(overview.lastCame, client.timeZone) : 'never') : ''}
        {overview && overview.running > 0 ? <Box color="muted">running</Box> : null}
      </Span>
    ),
  },
  {
    id: 'closed',
    head: 'Closed to',
    width: '76px',
    wraps: true,
    top: true,
    value: ({ overview }) => overview?.closedTo ?? '',
    cell: ({ overview }) => (
      <Span textStyle="small">{overview ? (overview.closedTo ? monthText(overview.closedTo) : 'none yet') : ''}</Span>
    ),
  },
]

const Named = ({ row, onUnfold }: { readonly row: ClientOfTable; readonly onUnfold: () => void }) => {
  const { client, waiting, unfolded } = row
  const [urgent] = waiting
  return (
    <>
      <Flex gap="10px" align="baseline">
        <PageLink fontWeight="600" fontSize="15px" to={linkIn(client, '/settlements')}>
          {client.name}
        </PageLink>
        <Span color="muted" textStyle="small">
          {zoneText(client.timeZone).replace(/ time$/, '')}, {client.base}
        </Span>
      </Flex>
      <Flex gap="8px" align="baseline" mt="3px">
        {urgent ? (
          <>
            <PageLink color={courseTones[urgent.saying.tone || 'calm'].said} textStyle="small" to={urgentLink(row)}>
              {urgentText(urgent, client)}
            </PageLink>
            <Button
              variant="ghost"
              textStyle="small"
              aria-expanded={unfolded}
              onClick={event => {
                event.stopPropagation()
                onUnfold()
              }}
            >
              {unfolded ? 'less' : `all ${waiting.length}`}
            </Button>
          </>
        ) : (
          <Span color="muted" textStyle="small">
            nothing waits
          </Span>
        )}
      </Flex>
    </>
  )
}

interface StageOfProps {
  readonly client: Client
  readonly stage: (typeof stageNames)[number]
  readonly last: boolean
}

const StageOf = ({ client, stage, last }: StageOfProps) => {
  const summary = client.stages.find(one => one.stage === stage)
  if (!summary) return null
  const saying = stageSaying(summary, client.stages)
  const tone = courseTones[saying.tone || 'calm']
  return (
    <Box textStyle="small">
      <CourseMark tone={tone} last={last} />
      <PageLink color={tone.said} to={linkIn(client, `/${stage}`)} aria-label={`${stageLabels[stage]}: ${saying.text}`}>
        {saying.text}
        {saying.money ? <Box>{amountText(summary.amount, client.base, client.locale)}</Box> : null}
      </PageLink>
    </Box>
  )
}

/** All that waits in a client, the most urgent first: under its row. */
export const WaitingRows = ({ client, waiting }: ClientOfTable) =>
  waiting.map(one => (
    <Table.Row key={one.stage} css={{ '& td': { paddingBlock: '4px' } }}>
      <Table.Cell pl="24px" colSpan={5} textStyle="small">
        <PageLink color={courseTones[one.saying.tone || 'calm'].said} to={linkIn(client, `/${one.stage}`)}>
          {one.label}: {one.saying.text}
        </PageLink>
        {one.heaviest ? (
          <>
            {' '}
            <Span color="muted">· the heaviest</Span> <PageLink to={linkIn(client, one.link)}>{one.heaviest}</PageLink>
          </>
        ) : null}
      </Table.Cell>
      <Table.Cell colSpan={2} textAlign="end" textStyle="small">
        {one.saying.money ? money(one.amount, client) : '–'}
      </Table.Cell>
      <Table.Cell colSpan={4} textStyle="small" color="muted">
        {one.since ? `since ${dateText(one.since)}` : ''}
      </Table.Cell>
    </Table.Row>
  ))

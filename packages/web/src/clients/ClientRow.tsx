import { Box, Button, Flex, Span, Table } from '@chakra-ui/react'
import { type Overview, type Session, stageNames } from '@culvert/contract'
import { CourseMark, courseTones } from '../ui/CourseMark.tsx'
import { amountText, currencySign, dateText, momentText, monthText, zoneText } from '../ui/formats.ts'
import { PageLink } from '../ui/PageLink.tsx'
import { stageLabels, stageSaying } from '../ui/stages.ts'
import type { Waiting } from './urgency.ts'

type Client = Session['clients'][number]

interface ClientRowProps {
  readonly client: Client
  readonly overview: Overview | undefined
  readonly waiting: readonly Waiting[]
  readonly active: boolean
  readonly unfolded: boolean
  readonly onUnfold: () => void
}

/** A client: what is most urgent in it, its course, when anything came in last; unfolded, all that waits, the most urgent first. */
export const ClientRow = ({ client, overview, waiting, active, unfolded, onUnfold }: ClientRowProps) => {
  const [urgent] = waiting
  const to = (link: string) => `/c/${client.clientId}${link}`
  return (
    <>
      <Table.Row data-tone={active ? 'active' : ''}>
        <Table.Cell whiteSpace="normal" lineHeight="1.35">
          <Flex gap="10px" align="baseline">
            <PageLink fontWeight="600" fontSize="15px" to={to('/settlements')}>
              {client.name}
            </PageLink>
            <Span color="muted" textStyle="small">
              {zoneText(client.timeZone).replace(/ time$/, '')}, {client.base}
            </Span>
          </Flex>
          <Flex gap="8px" align="baseline" mt="3px">
            {urgent ? (
              <>
                <PageLink color={courseTones[urgent.saying.tone || 'calm'].said} textStyle="small" to={to(urgent.link)}>
                  {urgentText(urgent, client)}
                </PageLink>
                <Button variant="ghost" textStyle="small" aria-expanded={unfolded} onClick={onUnfold}>
                  {unfolded ? 'less' : `all ${waiting.length}`}
                </Button>
              </>
            ) : (
              <Span color="muted" textStyle="small">
                nothing waits
              </Span>
            )}
          </Flex>
        </Table.Cell>
        {stageNames.map((stage, place) => (
          <StageCell key={stage} client={client} stage={stage} last={place === stageNames.length - 1} />
        ))}
        <Table.Cell textStyle="small" whiteSpace="normal" lineHeight="1.35">
          {overview ? (overview.lastCame ? momentText(overview.lastCame, client.timeZone) : 'never') : ''}
          {overview && overview.running > 0 ? <Box color="muted">running</Box> : null}
        </Table.Cell>
        <Table.Cell textStyle="small">
          {overview ? (overview.closedTo ? monthText(overview.closedTo) : 'none yet') : ''}
        </Table.Cell>
      </Table.Row>
      {unfolded
        ? waiting.map(one => (
            <Table.Row key={one.stage} css={{ '& td': { paddingBlock: '4px' } }}>
              <Table.Cell pl="24px" colSpan={5} textStyle="small">
                <PageLink color={courseTones[one.saying.tone || 'calm'].said} to={to(`/${one.stage}`)}>
                  {one.label}: {one.saying.text}
                </PageLink>
                {one.heaviest ? (
                  <>
                    {' '}
                    <Span color="muted">· the heaviest</Span> <PageLink to={to(one.link)}>{one.heaviest}</PageLink>
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
        : null}
    </>
  )
}

const money = (amount: number, { base, locale }: Client): string =>
  `${currencySign(base)} ${amountText(amount, base, locale)}`

const urgentText = (urgent: Waiting, client: Client): string => {
  const mark = urgent.saying.tone === 'fail' ? '▲ ' : urgent.saying.tone === 'warn' ? '◆ ' : ''
  const sum = urgent.saying.money ? `${money(urgent.amount, client)} ` : ''
  return `${mark}${urgent.label}: ${sum}${urgent.saying.text}${urgent.heaviest ? ` · ${urgent.heaviest}` : ''}`
}

const StageCell = ({
  client,
  stage,
  last,
}: {
  readonly client: Client
  readonly stage: (typeof stageNames)[number]
  readonly last: boolean
}) => {
  const summary = client.stages.find(one => one.stage === stage)
  if (!summary) return <Table.Cell />
  const saying = stageSaying(summary, client.stages)
  const tone = courseTones[saying.tone || 'calm']
  return (
    <Table.Cell px="0" textStyle="small" lineHeight="1.25" whiteSpace="normal">
      <CourseMark tone={tone} last={last} />
      <PageLink
        color={tone.said}
        to={`/c/${client.clientId}/${stage}`}
        aria-label={`${stageLabels[stage]}: ${saying.text}`}
      >
        {saying.text}
        {saying.money ? <Box>{amountText(summary.amount, client.base, client.locale)}</Box> : null}
      </PageLink>
    </Table.Cell>
  )
}

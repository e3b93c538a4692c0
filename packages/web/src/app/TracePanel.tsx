import { Box, Button, Flex, Span, Table } from '@chakra-ui/react'
import type { TraceStep } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { startOfLink } from '../context/startOfLink.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { readableDates } from '../ui/formats.ts'
import { Instead } from '../ui/Instead.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { SidePanel } from '../ui/SidePanel.tsx'
import { traceQuery } from './appQueries.ts'

const sorts: Record<TraceStep['sort'], string> = {
  order: 'Order',
  line: 'Activity',
  route: 'Route',
  entry: 'Entry',
  transfer: 'Transfer',
  bank_line: 'Bank',
  balance: 'Balance',
}

/** The way of an amount from order to bank line, with the place one stands at marked; each step leads on. */
export const TracePanel = () => {
  const { start, open, close } = useTrace()
  const { clientId } = useClient()
  const query = useQuery(traceQuery(clientId, start))
  const { data } = query
  return (
    <SidePanel open={start !== null} title="Trace" onClose={close}>
      {data ? (
        <>
          <Flex align="baseline" gap="12px" mb="12px">
            <Box as="h3" flex="1" fontWeight="600" fontSize="16px">
              {data.title}
            </Box>
            <Box fontWeight="600" fontSize="16px">
              <Amount minor={data.amount} currency={data.currency} signed />
            </Box>
          </Flex>
          <Box as="ol" listStyleType="none" m="0" p="0">
            {data.steps.map((step, index) => (
              <Step
                key={`${step.sort} ${step.title} ${step.link}`}
                step={step}
                last={index === data.steps.length - 1}
                onMore={start && start.named === undefined ? () => open({ ...start, named: mostNamed }) : null}
              />
            ))}
          </Box>
        </>
      ) : (
        <Instead of={query} />
      )}
    </SidePanel>
  )
}

/** Parts of a step that can be named at once. */
const mostNamed = 500

const itemPlace = { py: '2px', verticalAlign: 'top', borderTopWidth: '1px', borderColor: 'hairline' } as const

interface StepProps {
  readonly step: TraceStep
  readonly last: boolean
  /** Names more parts; null where all that can be are named. */
  readonly onMore: (() => void) | null
}

const Step = ({ step, last, onMore }: StepProps) => {
  const reached = step.count > 0
  return (
    <Box as="li" position="relative" pl="22px" pb="14px" {...(step.here ? { 'aria-current': 'step' } : {})}>
      {last ? null : (
        <Box
          position="absolute"
          left="5px"
          top="14px"
          bottom="-6px"
          borderLeftWidth="2px"
          borderColor={reached ? 'ink' : 'hairline'}
          borderStyle={reached ? 'solid' : 'dashed'}
        />
      )}
      <Box
        position="absolute"
        left="0"
        top="4px"
        w="12px"
        h="12px"
        borderRadius="50%"
        borderWidth="2px"
        borderColor={step.here ? 'plum' : reached ? 'ink' : 'bar'}
        bg={step.here ? 'plum' : 'sheet'}
      />
      <Box color="muted" textStyle="small">
        {sorts[step.sort]}
        {step.here ? ', you are here' : ''}
      </Box>
      <Flex gap="10px" align="baseline">
        <Box flex="1" minW="0">
          <StepLink link={step.link} text={step.title} strong />
        </Box>
        {step.amount === null ? null : (
          <Amount minor={step.amount} {...(step.currency ? { currency: step.currency } : {})} fontWeight="600" />
        )}
      </Flex>
      {step.detail ? (
        <Box color="muted" textStyle="small">
          {readableDates(step.detail)}
        </Box>
      ) : null}
      {step.items.length > 0 ? (
        <Table.Root unstyled w="100%" mt="3px" fontSize="13px" fontVariantNumeric="tabular-nums" tableLayout="fixed">
          <Table.Body>
            {step.items.map(item => (
              <Table.Row key={item.title + item.detail}>
                <Table.Cell {...itemPlace}>
                  <StepLink link={item.link} text={item.title} />{' '}
                  {item.detail ? (
                    <Span color="muted" textStyle="small">
                      {readableDates(item.detail)}
                    </Span>
                  ) : null}
                </Table.Cell>
                <Table.Cell {...itemPlace} textAlign="end" w="92px">
                  {item.amount === null ? null : (
                    <Amount minor={item.amount} {...(step.currency ? { currency: step.currency } : {})} />
                  )}
                </Table.Cell>
              </Table.Row>
            ))}
            {step.count > step.items.length ? (
              <Table.Row>
                <Table.Cell {...itemPlace} colSpan={2} color="muted" textStyle="small">
                  {onMore ? (
                    <Button variant="ghost" textStyle="small" onClick={onMore}>
                      and {step.count - step.items.length} more, smaller
                    </Button>
                  ) : (
                    `and ${step.count - step.items.length} more, smaller`
                  )}
                </Table.Cell>
              </Table.Row>
            ) : null}
          </Table.Body>
        </Table.Root>
      ) : null}
    </Box>
  )
}

const StepLink = ({
  link,
  text,
  strong,
}: {
  readonly link: string | null
  readonly text: string
  readonly strong?: boolean
}) => {
  const href = useHref()
  const { open } = useTrace()
  const fontWeight = strong ? '600' : 'inherit'
  if (link === null) return <Span fontWeight={fontWeight}>{text}</Span>
  const start = startOfLink(link)
  if (start)
    return (
      <Button variant="ghost" fontWeight={fontWeight} onClick={() => open(start)}>
        {text}
      </Button>
    )
  return (
    <PageLink fontWeight={fontWeight} to={href(link)}>
      {text}
    </PageLink>
  )
}

import { Button, Flex, Span } from '@chakra-ui/react'
import { monthOf, nextMonth } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useTheme } from 'next-themes'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { useAbout } from '../context/AboutContext.tsx'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { sessionQuery } from '../context/sessionQuery.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { momentText, monthText, zoneText } from '../ui/formats.ts'
import { PageLink } from '../ui/PageLink.tsx'
import { Select } from '../ui/Select.tsx'
import { FindBox } from './FindBox.tsx'
import { JobsUnderWay } from './JobsUnderWay.tsx'

/** The months from the last with data back to the first. */
const monthsBetween = (earliest: string | null, latest: string | null): string[] => {
  if (earliest === null || latest === null) return []
  const months: string[] = []
  for (let month = monthOf(earliest); month <= monthOf(latest); month = nextMonth(month)) months.unshift(month)
  return months
}

/** The slim bar above the course: client, month, find box, theme, keys, who is signed in. */
export const TopBar = ({
  pulledTo,
  asked,
  onKeys,
}: {
  readonly pulledTo: string | null
  /** How much waits for the person. */
  readonly asked: number
  readonly onKeys: () => void
}) => {
  const { data: session } = useQuery(sessionQuery)
  const client = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const { start } = useTrace()
  const { about } = useAbout()
  const [search, setSearch] = useSearchParams()
  const { resolvedTheme, setTheme } = useTheme()
  const plain = {
    borderColor: 'transparent',
    bg: 'transparent',
    fontWeight: '600',
    px: '0',
    cursor: 'pointer',
    h: '30px',
  } as const
  return (
    <Flex
      as="header"
      minH="42px"
      px={{ base: '12px', md: '24px' }}
      columnGap="18px"
      wrap={{ base: 'wrap', md: 'nowrap' }}
      align="center"
      bg="sheet"
      borderBottomWidth="1px"
      borderColor="hairline"
    >
      <Select
        {...plain}
        minW="164px"
        aria-label="Client"
        value={client.clientId}
        onChange={event => void navigate(event.target.value === 'all' ? '/' : `/c/${event.target.value}/settlements`)}
      >
        {session?.clients.map(one => (
          <option key={one.clientId} value={one.clientId}>
            {one.name}
          </option>
        ))}
        <option value="all">All clients …</option>
      </Select>
      <Select
        {...plain}
        fontWeight="400"
        minW="96px"
        aria-label="Month"
        value={search.get('period') ?? ''}
        onChange={event =>
          setSearch(before => {
            const next = new URLSearchParams(before)
            if (event.target.value === '') next.delete('period')
            else next.set('period', event.target.value)
            return next
          })
        }
      >
        <option value="">All months</option>
        {monthsBetween(client.earliest, client.latest).map(month => (
          <option key={month} value={month}>
            {monthText(month)}
          </option>
        ))}
      </Select>
      <FindBox />
      <Flex flex="1" />
      <JobsUnderWay>
        <Span color="muted" textStyle="small" hideBelow="md" whiteSpace="nowrap">
          {/* Beside a trace there is room for what one works with. */}
          {pulledTo && start === null && about === null
            ? `Pulled to ${momentText(pulledTo, client.timeZone)} ${zoneText(client.timeZone)}`
            : ''}
        </Span>
      </JobsUnderWay>
      <PageLink
        to={href('/asked')}
        whiteSpace="nowrap"
        color={asked > 0 ? 'ochre' : 'muted'}
        fontWeight={asked > 0 ? '600' : undefined}
      >
        {asked > 0 ? `${asked} asked of you` : 'Asked'}
      </PageLink>
      <PageLink to={href('/acts')} whiteSpace="nowrap" color="muted" hideBelow="md">
        Acts
      </PageLink>
      <PageLink
        to={href('/settings')}
        whiteSpace="nowrap"
        color={client.archivedAt === null ? 'muted' : 'ochre'}
        hideBelow="md"
      >
        {client.archivedAt === null ? 'Settings' : 'Archived'}
      </PageLink>
      <Button
        variant="plain"
        color="muted"
        aria-label={resolvedTheme === 'dark' ? 'Light theme' : 'Dark theme'}
        onClick={() => setTheme(resolvedTheme === 'dark' ? 'light' : 'dark')}
      >
        ◐
      </Button>
      <Button variant="plain" color="muted" aria-label="Keys of this page" onClick={onKeys}>
        ?
      </Button>
      <Span hideBelow="md" whiteSpace="nowrap">
        {session ? <Link to="/account">{session.user.name}</Link> : null}
      </Span>
    </Flex>
  )
}

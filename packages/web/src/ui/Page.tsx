import { Box, Button, Flex, Span } from '@chakra-ui/react'
import { type ReactNode, useState } from 'react'
import { type Asked, Instead } from './Instead.tsx'
import { HeadRoom } from './pageRoom.ts'

interface PageProps {
  /** Links to the stage's own pages, plain text on one line. */
  readonly links?: ReactNode
  readonly title: ReactNode
  readonly facts?: ReactNode
  readonly actions?: ReactNode
  /** What the page shows. While it is not there, what stands instead takes the place of the rest. */
  readonly of?: Asked
  readonly children?: ReactNode
}

const stageLinks = { '& a': { color: 'muted' }, '& a[aria-current=page]': { color: 'plum', fontWeight: '600' } }

/** A page of a stage: its links, its title with the facts beside it, its actions at the right. */
export const Page = ({ links, title, facts, actions, of, children }: PageProps) => {
  const [room, setRoom] = useState<HTMLElement | null>(null)
  return (
    <Box as="main" px={{ base: '12px', md: '24px' }} pt="12px" pb={{ base: '150px', md: '76px' }}>
      <Flex gap="18px" rowGap="4px" wrap="wrap" fontSize="13px" minH="19px" align="center" css={stageLinks}>
        {links}
      </Flex>
      <Flex align="center" gap="16px" rowGap={{ base: '4px', md: '10px' }} mt="2px" mb="10px" minH="34px" wrap="wrap">
        <Box as="h1" fontSize="19px" fontWeight="600" lineHeight="1.3">
          {title}
        </Box>
        {/* Where the actions leave the facts no room, they go to a line of their own. */}
        <Flex
          color="muted"
          gap="14px"
          rowGap="2px"
          flex={{ base: '1 1 100%', md: facts ? '1 1 190px' : '1' }}
          align="center"
          wrap="wrap"
        >
          {of?.error && of.data !== undefined ? <Stale of={of} /> : facts}
        </Flex>
        <Flex gap="10px" align="center" ml="auto" wrap={{ base: 'wrap', md: 'nowrap' }}>
          <Flex ref={setRoom} gap="8px" _empty={{ display: 'none' }} />
          {actions}
        </Flex>
      </Flex>
      {/* What is wider than the window is moved within the page, not the page. */}
      <Box overflowX={{ base: 'auto', lg: 'visible' }}>
        <HeadRoom.Provider value={room}>
          {of && of.data === undefined ? <Instead of={of} /> : children}
        </HeadRoom.Provider>
      </Box>
    </Box>
  )
}

/** What is shown is as it was: it could not be asked for anew. */
const Stale = ({ of }: { readonly of: Asked }) => (
  <Span role="alert" color="crimson">
    ▲ Not up to date: {of.error?.message}{' '}
    <Button variant="ghost" disabled={of.isFetching} onClick={() => void of.refetch()}>
      Try again
    </Button>
  </Span>
)

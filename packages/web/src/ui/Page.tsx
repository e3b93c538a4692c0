import { Box, Flex } from '@chakra-ui/react'
import type { ReactNode } from 'react'

interface PageProps {
  /** Links to the stage's own pages, plain text on one line. */
  readonly links?: ReactNode
  readonly title: ReactNode
  readonly facts?: ReactNode
  readonly actions?: ReactNode
  readonly children: ReactNode
}

/** A page of a stage: its links, its title with the facts beside it, its actions at the right. */
export const Page = ({ links, title, facts, actions, children }: PageProps) => (
  <Box as="main" px={{ base: '12px', md: '24px' }} pt="12px" pb="76px">
    <Flex gap="18px" fontSize="13px" minH="19px" align="center" className="stage-links">
      {links}
    </Flex>
    <Flex align="center" gap="16px" mt="2px" mb="10px" minH="34px" wrap="wrap">
      <Box as="h1" fontSize="19px" fontWeight="600" lineHeight="1.3">
        {title}
      </Box>
      <Flex className="muted" gap="14px" flex="1" align="center" wrap="wrap">
        {facts}
      </Flex>
      <Flex gap="10px" align="center">
        {actions}
      </Flex>
    </Flex>
    {children}
  </Box>
)

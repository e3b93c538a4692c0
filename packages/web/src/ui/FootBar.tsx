import { Flex } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { useTrace } from '../context/TraceContext.tsx'

/** The bar at the foot of a page: its one main action, and what that would do. */
export const FootBar = ({ children }: { readonly children: ReactNode }) => {
  const { start } = useTrace()
  return (
    <Flex
      as="section"
      aria-label="What can be done"
      position="fixed"
      bottom="0"
      left="0"
      right={{ base: '0', xl: start ? '400px' : '0' }}
      minH="48px"
      py="7px"
      px={{ base: '12px', md: '24px' }}
      gap={{ base: '8px', md: '12px' }}
      wrap={{ base: 'wrap', lg: 'nowrap' }}
      align="center"
      // A phone has no keys to say.
      css={{ '& kbd': { hideBelow: 'md' } }}
      zIndex="5"
      bg="sheet"
      borderTopWidth="1px"
      borderColor="hairline"
    >
      {children}
    </Flex>
  )
}

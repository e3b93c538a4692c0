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
      px="24px"
      gap="12px"
      align="center"
      zIndex="5"
      bg="sheet"
      borderTopWidth="1px"
      borderColor="hairline"
    >
      {children}
    </Flex>
  )
}

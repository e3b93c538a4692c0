import { Box } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** A page of its own for whoever is not signed in: one sheet, narrow. */
export const Plain = ({ title, children }: { readonly title: ReactNode; readonly children: ReactNode }) => (
  <Box as="main" minH="100vh" px="16px" pt={{ base: '24px', md: '12vh' }} pb="40px">
    <Box maxW="420px" mx="auto">
      <Box fontWeight="600" mb="10px">
        Culvert
      </Box>
      <Box bg="sheet" borderWidth="1px" borderColor="hairline" px="24px" py="20px">
        <Box as="h1" fontSize="19px" fontWeight="600" mb="14px">
          {title}
        </Box>
        {children}
      </Box>
    </Box>
  </Box>
)

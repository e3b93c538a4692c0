import { Flex, Span } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** Something of a page that waits for a person, in one strip: what, what is known of it, and what can be done. */
export const OpenMatter = ({
  what,
  facts,
  children,
}: {
  readonly what: ReactNode
  readonly facts: ReactNode
  readonly children?: ReactNode
}) => (
  <Flex
    mb="10px"
    bg="ochre.wash"
    borderWidth="1px"
    borderColor="ochre"
    px="12px"
    py="6px"
    gap="14px"
    align="center"
    wrap="wrap"
  >
    <Span color="ochre" fontWeight="600">
      ◆ {what}
    </Span>
    <Span color="muted" textStyle="small" flex="1">
      {facts}
    </Span>
    {children ? (
      <Flex gap="12px" align="center">
        {children}
      </Flex>
    ) : null}
  </Flex>
)

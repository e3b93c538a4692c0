import { Box } from '@chakra-ui/react'

/** How a stage looks by how loudly it speaks: its mark, the mark's edge, and its words. */
export const courseTones = {
  calm: { mark: 'sheet', edge: 'bar', said: 'muted' },
  warn: { mark: 'ochre', edge: 'ochre', said: 'ochre' },
  fail: { mark: 'crimson', edge: 'crimson', said: 'crimson' },
} as const

export type CourseTone = (typeof courseTones)[keyof typeof courseTones]

/** A stage's place on the line along which the money runs. */
export const CourseMark = ({ tone, last }: { readonly tone: CourseTone; readonly last: boolean }) => (
  <Box aria-hidden="true" position="relative" h="14px" my="2px" display={{ base: 'none', md: 'block' }}>
    <Box
      position="absolute"
      left="0"
      right={last ? '50%' : '0'}
      top="6px"
      borderTopWidth="2px"
      borderColor="hairline"
    />
    <Box
      position="absolute"
      left="0"
      top="1px"
      boxSize="12px"
      borderRadius="50%"
      borderWidth="2px"
      borderColor={tone.edge}
      bg={tone.mark}
    />
  </Box>
)

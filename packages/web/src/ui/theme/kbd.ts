import { defineRecipe } from '@chakra-ui/react'

/** A key that can be pressed. */
export const kbd = defineRecipe({
  className: 'chakra-kbd',
  base: {
    fontFamily: 'mono',
    fontSize: '11px',
    borderWidth: '1px',
    borderColor: 'hairline',
    borderRadius: '2px',
    px: '5px',
    py: '1px',
    color: 'muted',
    bg: 'sheet',
  },
})

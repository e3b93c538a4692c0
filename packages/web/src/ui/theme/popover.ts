import { defineSlotRecipe } from '@chakra-ui/react'
import { popoverAnatomy } from '@chakra-ui/react/anatomy'

/** What opens beside a control. */
export const popover = defineSlotRecipe({
  className: 'chakra-popover',
  slots: popoverAnatomy.keys(),
  base: {
    content: {
      // Above a dialog, in which dates are chosen too.
      zIndex: '35',
      bg: 'sheet',
      color: 'ink',
      borderWidth: '1px',
      borderColor: 'hairline',
      borderRadius: '2px',
      boxShadow: '0 6px 24px rgba(0, 0, 0, 0.16)',
      outline: 'none',
    },
  },
})

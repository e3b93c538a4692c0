import { defineSlotRecipe } from '@chakra-ui/react'
import { menuAnatomy } from '@chakra-ui/react/anatomy'

/** What opens under a button to choose from. */
export const menu = defineSlotRecipe({
  className: 'chakra-menu',
  slots: menuAnatomy.keys(),
  base: {
    content: {
      // Above the head of a table, which stays in view.
      zIndex: '20',
      minW: '180px',
      maxH: '420px',
      overflow: 'auto',
      bg: 'sheet',
      borderWidth: '1px',
      borderColor: 'hairline',
      borderRadius: '2px',
      boxShadow: '0 6px 24px rgba(0, 0, 0, 0.16)',
      outline: 'none',
    },
    item: {
      display: 'flex',
      alignItems: 'center',
      gap: '10px',
      h: '31px',
      px: '10px',
      cursor: 'pointer',
      _highlighted: { bg: 'slate.wash' },
    },
    itemText: { flex: '1' },
    itemIndicator: { color: 'slate' },
  },
})

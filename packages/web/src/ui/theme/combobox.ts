import { defineSlotRecipe } from '@chakra-ui/react'
import { comboboxAnatomy } from '@chakra-ui/react/anatomy'

/** What is typed into to choose from a list: in tables it shows its edge only where one points at it. */
export const combobox = defineSlotRecipe({
  className: 'chakra-combobox',
  slots: comboboxAnatomy.keys(),
  base: {
    root: { w: '100%' },
    control: { position: 'relative', w: '100%' },
    input: {
      w: '100%',
      h: '28px',
      px: '8px',
      font: 'inherit',
      color: 'ink',
      bg: 'transparent',
      borderWidth: '1px',
      borderColor: 'transparent',
      borderRadius: '2px',
      textOverflow: 'ellipsis',
      'tr:hover &, section &, header &, form &': { borderColor: 'hairline', bg: 'sheet' },
      _placeholder: { color: 'muted' },
      _focus: { borderColor: 'plum', bg: 'sheet', outline: 'none' },
    },
    content: {
      // Above the head of a table and a bar at the foot, and above a dialog that it was opened in.
      zIndex: '32',
      overflow: 'auto',
      maxH: 'min(420px, var(--available-height))',
      bg: 'sheet',
      color: 'ink',
      borderWidth: '1px',
      borderColor: 'hairline',
      borderRadius: '2px',
      boxShadow: '0 6px 24px rgba(0, 0, 0, 0.16)',
      outline: 'none',
    },
    item: {
      display: 'flex',
      gap: '10px',
      alignItems: 'center',
      h: '31px',
      px: '9px',
      cursor: 'pointer',
      whiteSpace: 'nowrap',
      _highlighted: { bg: 'slate.wash' },
    },
    empty: { p: '10px', color: 'muted' },
  },
})

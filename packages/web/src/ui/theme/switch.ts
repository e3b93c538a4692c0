import { defineSlotRecipe } from '@chakra-ui/react'
import { switchAnatomy } from '@chakra-ui/react/anatomy'

/** Something that is on or off, at once. */
export const switchRecipe = defineSlotRecipe({
  className: 'chakra-switch',
  slots: switchAnatomy.keys(),
  base: {
    root: { display: 'inline-flex', gap: '10px', alignItems: 'center', position: 'relative', cursor: 'pointer' },
    control: {
      display: 'inline-flex',
      w: '32px',
      h: '18px',
      p: '2px',
      borderRadius: '9px',
      bg: 'bar',
      flexShrink: 0,
      _checked: { bg: 'plum' },
      _focusVisible: { outline: '2px solid', outlineColor: 'slate', outlineOffset: '1px' },
    },
    thumb: {
      display: 'block',
      boxSize: '14px',
      borderRadius: '50%',
      bg: 'sheet',
      _checked: { transform: 'translateX(14px)' },
    },
    label: { userSelect: 'none' },
  },
})

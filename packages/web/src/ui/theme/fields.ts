import { defineRecipe, defineSlotRecipe } from '@chakra-ui/react'
import { nativeSelectAnatomy } from '@chakra-ui/react/anatomy'

const field = {
  h: '32px',
  px: '10px',
  fontSize: '14px',
  borderRadius: '2px',
  bg: 'sheet',
  color: 'ink',
  borderWidth: '1px',
  borderColor: 'hairline',
  maxW: '100%',
  _placeholder: { color: 'muted' },
  _invalid: { borderColor: 'crimson' },
  _focusVisible: { outline: '2px solid', outlineColor: 'slate', outlineOffset: '0' },
} as const

/** What one line is typed into. */
export const input = defineRecipe({ className: 'chakra-input', base: field })

/** What some lines are written into. */
export const textarea = defineRecipe({
  className: 'chakra-textarea',
  base: { ...field, h: 'auto', minH: '68px', w: '100%', py: '6px', lineHeight: '1.4', resize: 'vertical' },
})

/** What one of a few is chosen in. */
export const nativeSelect = defineSlotRecipe({
  className: 'chakra-native-select',
  slots: nativeSelectAnatomy.keys(),
  base: {
    root: { display: 'inline-block', position: 'relative', maxW: '100%' },
    field: { ...field, w: '100%', appearance: 'auto' },
  },
})

import { defineSlotRecipe } from '@chakra-ui/react'
import { checkboxAnatomy, fieldAnatomy, radioGroupAnatomy } from '@chakra-ui/react/anatomy'

const focus = { outline: '2px solid', outlineColor: 'slate', outlineOffset: '1px' } as const

/** A field with its name and what is wrong with it. */
export const field = defineSlotRecipe({
  className: 'chakra-field',
  slots: fieldAnatomy.keys(),
  base: {
    root: { display: 'flex', flexDirection: 'column', alignItems: 'flex-start', gap: '4px', w: '100%', minW: '0' },
    label: { fontSize: '13px', fontWeight: '500' },
    helperText: { fontSize: '12.5px', color: 'muted' },
    errorText: { fontSize: '12.5px', color: 'crimson' },
    requiredIndicator: { color: 'crimson' },
  },
})

const box = {
  w: '15px',
  h: '15px',
  flexShrink: '0',
  display: 'inline-flex',
  alignItems: 'center',
  justifyContent: 'center',
  bg: 'sheet',
  borderWidth: '1px',
  borderColor: 'muted',
  color: 'sheet',
} as const

/** A small square that is ticked. */
export const checkbox = defineSlotRecipe({
  className: 'chakra-checkbox',
  slots: checkboxAnatomy.keys(),
  base: {
    root: {
      display: 'inline-flex',
      gap: '7px',
      alignItems: 'center',
      verticalAlign: 'middle',
      position: 'relative',
      cursor: 'pointer',
    },
    control: {
      ...box,
      borderRadius: '2px',
      _checked: { bg: 'slate', borderColor: 'slate' },
      _indeterminate: { bg: 'slate', borderColor: 'slate' },
      _disabled: { opacity: '0.45', cursor: 'default' },
      _focusVisible: focus,
      '& svg': { w: '11px', h: '11px', strokeWidth: '3' },
    },
    label: { fontSize: '14px', _disabled: { color: 'muted' } },
  },
})

/** One of a few, a line each. */
export const radioGroup = defineSlotRecipe({
  className: 'chakra-radio-group',
  slots: radioGroupAnatomy.keys(),
  base: {
    root: { display: 'flex', flexDirection: 'column', gap: '1px' },
    item: {
      display: 'flex',
      gap: '9px',
      alignItems: 'center',
      minH: '28px',
      px: '6px',
      position: 'relative',
      cursor: 'pointer',
      borderRadius: '2px',
      _hover: { bg: 'slate.wash' },
      _disabled: { opacity: '0.5', cursor: 'default' },
    },
    itemControl: {
      ...box,
      borderRadius: '50%',
      _checked: { borderColor: 'slate', color: 'slate' },
      _focusVisible: focus,
      '& .dot': { h: '7px', w: '7px', borderRadius: '50%', bg: 'transparent' },
      '&[data-state=checked] .dot': { bg: 'slate' },
    },
    itemText: { fontSize: '14px' },
  },
})

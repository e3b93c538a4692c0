import { defineRecipe } from '@chakra-ui/react'

/** `solid` for the one main action of a page, `outline` for the others, `plain` for what stands beside them, `ghost` for an act in the midst of words. */
export const button = defineRecipe({
  className: 'chakra-button',
  base: {
    display: 'inline-flex',
    alignItems: 'center',
    justifyContent: 'center',
    fontWeight: '500',
    borderRadius: '2px',
    fontSize: '14px',
    whiteSpace: 'nowrap',
    cursor: 'pointer',
    flexShrink: 0,
    borderWidth: '1px',
    borderColor: 'transparent',
    gap: '8px',
    _disabled: { opacity: 0.5, cursor: 'not-allowed' },
    _focusVisible: { outline: '2px solid', outlineColor: 'slate', outlineOffset: '1px' },
  },
  variants: {
    variant: {
      solid: { h: '32px', px: '13px', bg: 'plum', color: 'plum.ink', borderColor: 'plum', _hover: { opacity: 0.92 } },
      outline: {
        h: '32px',
        px: '13px',
        bg: 'sheet',
        color: 'ink',
        borderColor: 'hairline',
        _hover: { borderColor: 'muted', textDecoration: 'none' },
      },
      plain: { h: '32px', px: '4px', color: 'slate', _hover: { textDecoration: 'underline' } },
      ghost: {
        display: 'inline',
        borderWidth: '0',
        color: 'slate',
        fontWeight: 'inherit',
        fontSize: 'inherit',
        textAlign: 'start',
        whiteSpace: 'inherit',
        _hover: { textDecoration: 'underline' },
        _disabled: { opacity: 1, color: 'muted', cursor: 'default', textDecoration: 'none' },
      },
    },
  },
  defaultVariants: { variant: 'outline' },
})

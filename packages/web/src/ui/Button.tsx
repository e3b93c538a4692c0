import { chakra } from '@chakra-ui/react'

/** Our button: `main` for the one main action of a page, `plain` for the others, `quiet` for what stands in a line. */
export const Button = chakra(
  'button',
  {
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
      h: '32px',
      px: '13px',
      gap: '8px',
      _disabled: { opacity: 0.5, cursor: 'not-allowed' },
      _focusVisible: { outline: '2px solid var(--slate)', outlineOffset: '1px' },
    },
    variants: {
      look: {
        main: { bg: 'var(--plum)', color: 'var(--plum-ink)', borderColor: 'var(--plum)', _hover: { opacity: 0.92 } },
        plain: {
          bg: 'var(--sheet)',
          color: 'var(--ink)',
          borderColor: 'var(--hairline)',
          _hover: { borderColor: 'var(--muted)' },
        },
        quiet: { color: 'var(--slate)', px: '4px', _hover: { textDecoration: 'underline' } },
      },
    },
    defaultVariants: { look: 'plain' },
  },
  { defaultProps: { type: 'button' } },
)

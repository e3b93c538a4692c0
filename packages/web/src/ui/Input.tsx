import { chakra } from '@chakra-ui/react'

const field = {
  base: {
    h: '32px',
    px: '10px',
    fontSize: '14px',
    borderRadius: '2px',
    bg: 'var(--sheet)',
    color: 'var(--ink)',
    borderWidth: '1px',
    borderColor: 'var(--hairline)',
    maxW: '100%',
    _placeholder: { color: 'var(--muted)' },
    _focusVisible: { outline: '2px solid var(--slate)', outlineOffset: '0' },
  },
} as const

export const Input = chakra('input', field)
export const Select = chakra('select', field)

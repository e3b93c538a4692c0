import { defineSemanticTokens } from '@chakra-ui/react'

const color = (light: string, dark: string) => ({ value: { base: light, _dark: dark } })

/** Linen, ink and plum, in both themes. */
export const colors = defineSemanticTokens.colors({
  linen: color('#eef1ee', '#14181c'),
  sheet: color('#ffffff', '#1b2127'),
  hairline: color('#d3d9d4', '#36404a'),
  ink: color('#1c2430', '#e4e9e6'),
  muted: color('#56616b', '#a3afb6'),
  /** The one main action, and the current stage. */
  plum: {
    DEFAULT: color('#6b2d5c', '#d79cc8'),
    ink: color('#ffffff', '#1b1017'),
    wash: color('#f3edf1', '#2e2430'),
  },
  /** Links and selection. */
  slate: { DEFAULT: color('#2f5573', '#96bcdc'), wash: color('#e9eff4', '#20303d') },
  /** Blocked, or waiting for somebody. */
  ochre: { DEFAULT: color('#8a5a00', '#e0ae4c'), wash: color('#faf6e8', '#2c2618') },
  /** Unexplained, or failed. */
  crimson: color('#b3202c', '#f58a93'),
  bar: color('#9caea7', '#5d716a'),
  veil: color('rgba(20, 24, 28, 0.35)', 'rgba(0, 0, 0, 0.5)'),
  bg: { DEFAULT: { value: '{colors.linen}' }, panel: { value: '{colors.sheet}' } },
  fg: { DEFAULT: { value: '{colors.ink}' }, muted: { value: '{colors.muted}' } },
  border: { DEFAULT: { value: '{colors.hairline}' } },
})

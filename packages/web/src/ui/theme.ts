import { createSystem, defaultBaseConfig, defineConfig } from '@chakra-ui/react'
import { dialogSlotRecipe } from '@chakra-ui/react/theme'

/** Our theme: only the recipes that the interface uses, in linen, ink and plum. */
export const system = createSystem(
  defaultBaseConfig,
  defineConfig({
    preflight: true,
    globalCss: { html: { bg: 'var(--linen)' } },
    theme: {
      breakpoints: { sm: '480px', md: '768px', lg: '1024px', xl: '1280px' },
      tokens: {
        fonts: {
          body: { value: "'IBM Plex Sans', sans-serif" },
          heading: { value: "'IBM Plex Sans', sans-serif" },
          mono: { value: "'IBM Plex Mono', monospace" },
        },
        radii: {
          xs: { value: '2px' },
          sm: { value: '2px' },
          md: { value: '2px' },
          lg: { value: '2px' },
          l1: { value: '2px' },
          l2: { value: '2px' },
          l3: { value: '2px' },
        },
      },
      semanticTokens: {
        colors: {
          bg: { DEFAULT: { value: 'var(--linen)' }, panel: { value: 'var(--sheet)' } },
          fg: { DEFAULT: { value: 'var(--ink)' }, muted: { value: 'var(--muted)' } },
          border: { DEFAULT: { value: 'var(--hairline)' } },
        },
      },
      slotRecipes: { dialog: dialogSlotRecipe },
    },
  }),
)

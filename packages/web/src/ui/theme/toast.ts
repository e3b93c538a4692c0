import { defineSlotRecipe } from '@chakra-ui/react'
import { toastAnatomy } from '@chakra-ui/react/anatomy'

/** What was done or refused, at the foot of the page and above a dialog. Where it stands among others, the toaster says. */
export const toast = defineSlotRecipe({
  className: 'chakra-toast',
  slots: toastAnatomy.keys(),
  base: {
    root: {
      translate: 'var(--x) var(--y)',
      zIndex: 'var(--z-index)',
      opacity: 'var(--opacity)',
      w: 'max-content',
      minW: '260px',
      maxW: 'min(720px, calc(100vw - 32px))',
      maxH: '60vh',
      overflow: 'auto',
      px: '14px',
      py: '10px',
      bg: 'sheet',
      color: 'ink',
      borderWidth: '1px',
      borderColor: 'ink',
      borderRadius: '2px',
      boxShadow: '0 4px 18px rgba(0, 0, 0, 0.18)',
      '&[data-type=error]': { borderColor: 'crimson' },
    },
    title: { flex: '1' },
  },
})

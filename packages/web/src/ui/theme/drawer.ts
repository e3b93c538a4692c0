import { defineSlotRecipe } from '@chakra-ui/react'
import { drawerAnatomy } from '@chakra-ui/react/anatomy'

/** A sheet at the right edge, over its whole height: beside the page where there is room for it. */
export const drawer = defineSlotRecipe({
  className: 'chakra-drawer',
  slots: drawerAnatomy.keys(),
  base: {
    backdrop: { bg: 'veil', position: 'fixed', inset: '0', zIndex: '14' },
    positioner: { position: 'fixed', top: '0', bottom: '0', right: '0', w: '400px', maxW: '100%', zIndex: '15' },
    content: {
      h: '100%',
      overflowY: 'auto',
      bg: 'sheet',
      color: 'ink',
      borderLeftWidth: '1px',
      borderColor: 'hairline',
      boxShadow: '-6px 0 24px rgba(0, 0, 0, 0.10)',
      outline: 'none',
    },
    header: { display: 'flex', alignItems: 'center', gap: '12px', px: '18px', pt: '12px', mb: '2px' },
    title: { flex: '1', color: 'muted', textStyle: 'small' },
    body: { px: '18px', pb: '60px' },
  },
})

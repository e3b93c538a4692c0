import { defineSlotRecipe } from '@chakra-ui/react'
import { dialogAnatomy } from '@chakra-ui/react/anatomy'

/** A sheet over the page, `lg` where things are written side by side. */
export const dialog = defineSlotRecipe({
  className: 'chakra-dialog',
  slots: dialogAnatomy.keys(),
  base: {
    backdrop: { bg: 'veil', position: 'fixed', inset: '0', zIndex: '30' },
    positioner: {
      position: 'fixed',
      inset: '0',
      zIndex: '31',
      display: 'flex',
      alignItems: 'center',
      justifyContent: 'center',
      p: '16px',
    },
    content: {
      maxW: '100%',
      maxH: '100%',
      overflow: 'auto',
      boxShadow: '0 12px 40px rgba(0, 0, 0, 0.22)',
      bg: 'sheet',
      color: 'ink',
      borderWidth: '1px',
      borderColor: 'hairline',
      borderRadius: '2px',
      outline: 'none',
    },
    header: { px: '20px', pt: '16px', pb: '10px' },
    title: { fontSize: '16px', fontWeight: '600' },
    body: { px: '20px', pb: '6px' },
    footer: { display: 'flex', gap: '10px', px: '20px', pt: '8px', pb: '16px', alignItems: 'center' },
  },
  variants: { size: { md: { content: { w: '520px' } }, lg: { content: { w: '760px' } } } },
  defaultVariants: { size: 'md' },
})

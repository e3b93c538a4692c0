import { defineRecipe } from '@chakra-ui/react'

/** In place of what is on its way. */
export const skeleton = defineRecipe({
  className: 'chakra-skeleton',
  base: { bg: 'hairline', borderRadius: '2px', color: 'transparent' },
})

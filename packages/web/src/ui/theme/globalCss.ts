import { defineGlobalStyles } from '@chakra-ui/react'

/** What holds for the page as a whole. */
export const globalCss = defineGlobalStyles({
  // The scroll bar keeps its place where there is nothing to scroll: pages do not jump, and the frame reaches to it.
  html: { bg: 'linen', overflowY: 'scroll', colorScheme: 'light', '&.dark': { colorScheme: 'dark' } },
  body: { bg: 'linen', color: 'ink', fontFamily: 'body', fontSize: '14px', lineHeight: '1.4', m: 0 },
  code: { textStyle: 'mono' },
  ':focus-visible': { outline: '2px solid {colors.slate}', outlineOffset: '1px' },
  a: { color: 'slate', textDecoration: 'none', _hover: { textDecoration: 'underline' } },
})

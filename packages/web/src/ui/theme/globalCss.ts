import { defineGlobalStyles } from '@chakra-ui/react'

/** What holds for the page as a whole. */
export const globalCss = defineGlobalStyles({
  // The ground reaches to the window's edge, beside a scroll bar too, which keeps its place where there is none.
  html: { bg: 'linen', scrollbarGutter: 'stable', colorScheme: 'light', '&.dark': { colorScheme: 'dark' } },
  body: { bg: 'linen', color: 'ink', fontFamily: 'body', fontSize: '14px', lineHeight: '1.4', m: 0 },
  code: { textStyle: 'mono' },
  ':focus-visible': { outline: '2px solid {colors.slate}', outlineOffset: '1px' },
  a: { color: 'slate', textDecoration: 'none', _hover: { textDecoration: 'underline' } },
})

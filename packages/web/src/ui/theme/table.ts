import { defineSlotRecipe } from '@chakra-ui/react'
import { tableAnatomy } from '@chakra-ui/react/anatomy'

const place = {
  h: '32px',
  px: '10px',
  textAlign: 'start',
  borderBottomWidth: '1px',
  borderColor: 'hairline',
  whiteSpace: 'nowrap',
  overflow: 'hidden',
  textOverflow: 'ellipsis',
  // Eleven columns of a settlement list at the narrowest that is worked at.
  '@media (max-width: 1180px)': { px: '6px', fontSize: '13px' },
} as const

/**
 * A dense sheet. Rows say what they are by words of `data-tone` (opens, active, selected, waiting, total, muted, crimson) and `data-rule` (a rule above); `data-beside` is for sheets that stand row
 * beside row: a figure beside several lines keeps to the first. In cells of small words a link is told by more than its colour.
 */
export const table = defineSlotRecipe({
  className: 'chakra-table',
  slots: tableAnatomy.keys(),
  base: {
    root: {
      w: '100%',
      borderCollapse: 'collapse',
      bg: 'sheet',
      borderWidth: '1px',
      borderColor: 'hairline',
      fontVariantNumeric: 'tabular-nums',
      '&[data-beside] tbody td': {
        verticalAlign: 'top',
        pt: '6px',
        pb: '0',
        lineHeight: '20px',
        boxSizing: 'border-box',
      },
    },
    header: {
      '& th': {
        fontSize: '12px',
        fontWeight: '400',
        color: 'muted',
        bg: 'sheet',
        position: 'sticky',
        top: 0,
        zIndex: 1,
        boxShadow: 'inset 0 -1px 0 {colors.hairline}',
      },
    },
    body: { '& tr:last-child > td, & tr:last-child > th': { borderBottomWidth: '0' } },
    row: {
      '&[data-tone~=active] > td': { bg: 'slate.wash' },
      '&[data-tone~=selected] > td': { bg: 'plum.wash' },
      '&[data-tone~=waiting] > td': { bg: 'ochre.wash' },
      '&[data-tone~=total] > :is(td, th)': { fontWeight: '600', color: 'ink', fontSize: '14px' },
      '&[data-tone~=muted] > td': { color: 'muted' },
      '&[data-tone~=crimson] > td': { color: 'crimson' },
      '&[data-rule] > td': { borderTop: '2px solid {colors.ink}' },
      '&:hover [data-picks] select': { borderColor: 'hairline' },
      '&[data-tone~=opens]': { cursor: 'pointer' },
    },
    columnHeader: place,
    cell: {
      ...place,
      // A cell in which something is chosen: its list reaches beyond it.
      '&[data-picks]': {
        overflow: 'visible',
        px: '4px',
        '& select': { h: '28px', borderColor: 'transparent', bg: 'transparent', px: '2px', textStyle: 'mono' },
      },
      '&[data-words] :is(a, button)': { textDecoration: 'underline', textUnderlineOffset: '2px' },
    },
  },
})

import { chakra } from '@chakra-ui/react'
import { Command } from 'cmdk'

/** The list that opens where one types to choose; in a bar at the foot it opens upwards. */
export const ChoiceList = chakra(Command.List, {
  base: {
    position: 'absolute',
    left: '0',
    overflow: 'auto',
    bg: 'sheet',
    borderWidth: '1px',
    borderColor: 'hairline',
    boxShadow: '0 6px 24px rgba(0, 0, 0, 0.16)',
    '& [cmdk-empty]': { p: '10px', color: 'muted' },
  },
})

export const Choice = chakra(Command.Item, {
  base: {
    display: 'flex',
    gap: '10px',
    alignItems: 'center',
    h: '31px',
    px: '9px',
    cursor: 'pointer',
    whiteSpace: 'nowrap',
    '&[data-selected=true]': { bg: 'slate.wash' },
  },
})

/** What is typed into: in tables it shows its edge only where one points at it. */
export const ChoiceInput = chakra(Command.Input, {
  base: {
    w: '100%',
    h: '28px',
    px: '8px',
    font: 'inherit',
    color: 'ink',
    bg: 'transparent',
    borderWidth: '1px',
    borderColor: 'transparent',
    borderRadius: '2px',
    textOverflow: 'ellipsis',
    'tr:hover &, section &, header &': { borderColor: 'hairline', bg: 'sheet' },
    _placeholder: { color: 'muted' },
    _focus: { borderColor: 'plum', bg: 'sheet', outline: 'none' },
  },
})

import { chakra } from '@chakra-ui/react'
import type { Beside, PlacedLine, StatementItem } from './arrangeEntry.ts'

interface LinkLinesProps {
  readonly beside: Beside
  readonly items: readonly StatementItem[]
  readonly isLit: (item: StatementItem, line: PlacedLine) => boolean
}

const rowHeight = 32
const width = 92

/** Draws from each figure of the statement to the entry lines that it went into. Said in words by the rows themselves. */
export const LinkLines = ({ beside, items, isLit }: LinkLinesProps) => {
  // Below the head row of both sheets.
  const y = (row: number) => rowHeight * (row + 1.5)
  const height = rowHeight * (2 + Math.max(beside.right.length, items.length))
  const curves = beside.left.flatMap(({ item: index, top }) => {
    const item = index === null ? undefined : items[index]
    if (item?.type !== 'row') return []
    return beside.right.flatMap((right, to) =>
      right.type === 'line' && item.row.to.includes(right.line.place)
        ? [{ from: top, to, lit: isLit(item, right.line) }]
        : [],
    )
  })
  // What is lit is drawn last, over the rest.
  curves.sort((one, other) => Number(one.lit) - Number(other.lit))
  return (
    <svg width={width} height={height} aria-hidden="true" style={{ display: 'block', flex: 'none' }}>
      {curves.map(({ from, to, lit }) => (
        <chakra.path
          key={`${from} ${to}`}
          d={`M0 ${y(from)} C ${width / 2} ${y(from)}, ${width / 2} ${y(to)}, ${width} ${y(to)}`}
          fill="none"
          stroke={lit ? 'plum' : 'bar'}
          strokeWidth={lit ? 1.8 : 0.8}
          opacity={lit ? 1 : 0.6}
        />
      ))}
    </svg>
  )
}

import { Progress } from '@chakra-ui/react'

/** How far something is: `share` of one, or null where nobody can say. */
export const ProgressBar = ({
  share,
  label,
  width,
}: {
  readonly share: number | null
  readonly label: string
  readonly width: string
}) => (
  <Progress.Root value={share === null ? null : Math.round(share * 100)} aria-label={label} flexShrink={0}>
    <Progress.Track bg="hairline" w={width} h="6px" overflow="hidden" aria-label={label}>
      <Progress.Range bg="plum" h="6px" />
    </Progress.Track>
  </Progress.Root>
)

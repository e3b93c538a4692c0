import { Button, type ButtonProps } from '@chakra-ui/react'
import { MessageSquareText } from 'lucide-react'
import { type About, useAbout } from '../context/AboutContext.tsx'

/** Opens the notes and the history of something. `plain`: in a row of many, as a sign alone. */
export const AboutButton = ({
  of,
  plain = false,
  ...button
}: ButtonProps & { readonly of: About; readonly plain?: boolean }) => {
  const { open } = useAbout()
  const label = `Notes and history of ${of.title}`
  return (
    <Button
      {...(plain
        ? { variant: 'ghost', color: 'muted', px: '2px', 'aria-label': label, title: 'Notes and history' }
        : {})}
      {...button}
      onClick={event => {
        event.stopPropagation()
        open(of)
      }}
    >
      <MessageSquareText size={15} aria-hidden="true" />
      {plain ? null : ' Notes and history'}
    </Button>
  )
}

import { Box, Span } from '@chakra-ui/react'
import type { ActObjectRow } from '@culvert/contract'
import { useHref } from '../context/ClientContext.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { differenceText, objectPath, objectText } from './actWords.ts'

/** What an act touched, each with what changed of it. */
export const ActObjects = ({
  objects,
  count,
}: {
  readonly objects: readonly ActObjectRow[]
  readonly count: number
}) => {
  const href = useHref()
  return (
    <Box as="ul" listStyleType="none" m="0" p="0">
      {objects.map((object, at) => {
        const path = objectPath(object)
        const text = objectText(object)
        return (
          <Box as="li" key={at} overflowWrap="anywhere">
            {path === null ? (
              text
            ) : (
              <PageLink textDecoration="underline" to={href(path)}>
                {text}
              </PageLink>
            )}{' '}
            <Span color="muted">{differenceText(object)}</Span>
          </Box>
        )
      })}
      {count > objects.length ? (
        <Box as="li" color="muted">
          and {(count - objects.length).toLocaleString('en-IE')} more
        </Box>
      ) : null}
    </Box>
  )
}

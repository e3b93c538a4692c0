import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { ProofPage } from '@culvert/contract'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { SetAsideDialog } from '../ui/SetAsideDialog.tsx'
import { useProofAnswer } from './clearingQueries.ts'

interface LeftOut {
  readonly source: string
  readonly about: 'day' | 'statement'
  readonly name: string
  readonly text: string
}

const shown = 6

const leftOutOf = ({ source, name, days, statements }: ProofPage['missing'][number]): LeftOut[] => [
  ...statements.map(number => ({
    ...{ source, about: 'statement' as const, name: number },
    text: `${name}: statement ${number} is missing`,
  })),
  ...days.map(day => ({
    ...{ source, about: 'day' as const, name: day },
    text: `${name} reported nothing on ${dateText(day)}`,
  })),
]

/** Days and statements that a source left out: the proof is not closed until they come in, or somebody says that nothing happened. */
export const Missing = ({ page }: { readonly page: Pick<ProofPage, 'missing'> }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const answer = useProofAnswer(clientId)
  const [asked, setAsked] = useState<LeftOut | null>(null)
  const all = page.missing.flatMap(leftOutOf)
  if (all.length === 0) return null
  return (
    <Box color="ochre" textStyle="small" role="note" mt="12px">
      {all.slice(0, shown).map(one => (
        <Flex key={`${one.source} ${one.about} ${one.name}`} gap="12px" align="center">
          <Span>◆ {one.text}</Span>
          <Button variant="plain" disabled={answer.isPending} onClick={() => setAsked(one)}>
            Nothing happened
          </Button>
        </Flex>
      ))}
      {all.length > shown ? <div>and {countText(all.length - shown, 'more', 'more')}</div> : null}
      <SetAsideDialog
        open={asked !== null}
        what=""
        hint=""
        words={{ title: asked?.text ?? '', act: 'Nothing happened', label: 'How you know that nothing happened' }}
        onClose={() => setAsked(null)}
        onDone={reason => {
          if (!asked) return
          const { text: _, ...of } = asked
          answer.mutate({ ...of, reason }, { onSuccess: () => setAsked(null), onError: notice.refuse })
        }}
      />
    </Box>
  )
}

import { Box, Span } from '@chakra-ui/react'
import type { ActRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { ActDialog } from '../acts/ActDialog.tsx'
import { actsQuery } from '../acts/actQueries.ts'
import { actText, differenceText, personText } from '../acts/actWords.ts'
import { type About, useAbout } from '../context/AboutContext.tsx'
import { useClient } from '../context/ClientContext.tsx'
import { useMay } from '../context/useMay.ts'
import { momentText, zoneText } from '../ui/formats.ts'
import { Instead } from '../ui/Instead.tsx'
import { SidePanel } from '../ui/SidePanel.tsx'
import { NoteCard } from './NoteCard.tsx'
import { NoteForm } from './NoteForm.tsx'
import { notesQuery } from './noteQueries.ts'

/** Notes and questions about something, and who did what to it. */
export const AboutPanel = () => {
  const { about, close } = useAbout()
  return (
    <SidePanel open={about !== null} title="Notes and history" onClose={close}>
      {about ? <Inside key={about.subject + about.key} about={about} /> : null}
    </SidePanel>
  )
}

const Inside = ({ about }: { readonly about: About }) => {
  const { clientId } = useClient()
  const may = useMay()
  const query = useQuery(notesQuery(clientId, { subject: about.subject, key: about.key }))
  return (
    <>
      <Box as="h3" fontWeight="600" fontSize="16px" mb="10px" overflowWrap="anywhere">
        {about.title}
      </Box>
      {query.data ? query.data.notes.map(note => <NoteCard key={note.noteId} note={note} />) : <Instead of={query} />}
      {may('comment') ? <NoteForm about={about} /> : null}
      <History about={about} />
    </>
  )
}

const History = ({ about }: { readonly about: About }) => {
  const { clientId, timeZone } = useClient()
  const query = useQuery(actsQuery(clientId, { subject: about.subject, key: about.key, limit: 100 }))
  const [opened, setOpened] = useState<ActRow | null>(null)
  const { data } = query
  return (
    <Box as="section" aria-label="History" mt="22px">
      <Box as="h3" fontWeight="600" mb="6px">
        History{' '}
        <Span color="muted" fontWeight="400" textStyle="small">
          {zoneText(timeZone)}
        </Span>
      </Box>
      {data ? (
        <Box as="ol" listStyleType="none" m="0" p="0">
          {data.acts.length === 0 ? <Box color="muted">Nobody has done anything to it yet.</Box> : null}
          {data.acts.map(act => (
            <Box as="li" key={act.actId} py="5px" borderTopWidth="1px" borderColor="hairline">
              <Box>
                <Span fontWeight="600">{personText(act)}</Span>{' '}
                <Box
                  as="button"
                  color="slate"
                  cursor="pointer"
                  _hover={{ textDecoration: 'underline' }}
                  onClick={() => setOpened(act)}
                >
                  {actText(act.sort)}
                </Box>
                {act.count > 1 ? <Span color="muted"> with {act.count - 1} more</Span> : null}
              </Box>
              <Box color="muted" textStyle="small" overflowWrap="anywhere">
                {momentText(act.at, timeZone)}
                {ownDifference(act, about)}
              </Box>
            </Box>
          ))}
        </Box>
      ) : (
        <Instead of={query} />
      )}
      {opened ? <ActDialog act={opened} onClose={() => setOpened(null)} /> : null}
    </Box>
  )
}

/** What an act changed of this very thing, where its first objects tell. */
const ownDifference = (act: ActRow, about: About): string => {
  const own = act.objects.find(one => one.subject === about.subject && one.key === about.key)
  const text = own ? differenceText(own) : ''
  return text === '' ? '' : ` · ${text}`
}

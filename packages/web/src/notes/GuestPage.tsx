import { Box, Flex } from '@chakra-ui/react'
import type { Session } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { ClientProvider } from '../context/ClientContext.tsx'
import { Page } from '../ui/Page.tsx'
import { NoteCard } from './NoteCard.tsx'
import { askedQuery } from './noteQueries.ts'

/** What the client’s own person sees: the questions put to them, and nothing of the books. */
export const GuestPage = ({ client }: { readonly client: Session['clients'][number] }) => {
  const query = useQuery(askedQuery(client.clientId))
  const { data } = query
  return (
    <ClientProvider value={{ ...client, latest: null, earliest: null }}>
      <Page
        of={query}
        links={
          <>
            <Link to="/">Clients</Link>
            <Link to="/account">Account</Link>
          </>
        }
        title={`Questions about ${client.name}`}
      >
        {data ? (
          <Flex direction="column" maxW="640px">
            {data.questions.length === 0 ? <Box color="muted">Nobody asks you anything.</Box> : null}
            {data.questions.map(note => (
              <NoteCard key={note.noteId} note={note} about={<span>{note.title}</span>} />
            ))}
          </Flex>
        ) : null}
      </Page>
    </ClientProvider>
  )
}

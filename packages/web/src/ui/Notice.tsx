import { Box, Button, Flex, Span, Table } from '@chakra-ui/react'
import { createContext, type ReactNode, useCallback, useContext, useMemo, useState } from 'react'
import { RequestRefused } from '../context/request.ts'

interface Said {
  readonly tone: 'done' | 'refused'
  readonly text: string
  readonly faults: readonly { row: number; column: string | null; value: string; expected: string }[]
  readonly count: number
  readonly undo: Undo | null
}

/** Takes back what was just done. */
export interface Undo {
  readonly label: string
  readonly act: () => void
}

interface NoticeContext {
  /** Says that something was done, and how it is taken back where that can be. */
  say(text: string, undo?: Undo): void
  /** Says what was refused and why. */
  refuse(error: unknown): void
  /** Says what a job came to, beside what was said of an act: neither hides the other. */
  tellOfJob(told: string | Error): void
}

const Context = createContext<NoticeContext>({
  say: () => undefined,
  refuse: () => undefined,
  tellOfJob: () => undefined,
})
export const useNotice = (): NoticeContext => useContext(Context)

const done = (text: string, undo: Undo | null = null): Said => ({ tone: 'done', text, faults: [], count: 0, undo })
const refusedBy = (error: unknown): Said => ({
  tone: 'refused',
  text: error instanceof Error ? error.message : 'Something went wrong.',
  faults: error instanceof RequestRefused ? (error.problem.faults ?? []) : [],
  count: error instanceof RequestRefused ? (error.problem.count ?? 0) : 0,
  undo: null,
})

/** ms for which what a job came to stays beside what is said next. */
const jobStays = 5000

/** Shows the last thing that was done or refused, and the last that a job came to, until they are put away or the next comes. */
export const NoticeProvider = ({ children }: { readonly children: ReactNode }) => {
  const [ofAct, setOfAct] = useState<Said | null>(null)
  const [ofJob, setOfJob] = useState<{ readonly said: Said; readonly at: number } | null>(null)
  const show = useCallback((said: Said) => {
    setOfAct(said)
    setOfJob(before => (before && Date.now() - before.at < jobStays ? before : null))
  }, [])
  const value = useMemo<NoticeContext>(
    () => ({
      say: (text, undo) => show(done(text, undo)),
      refuse: error => show(refusedBy(error)),
      tellOfJob: told => setOfJob({ said: typeof told === 'string' ? done(told) : refusedBy(told), at: Date.now() }),
    }),
    [show],
  )
  return (
    <Context.Provider value={value}>
      {children}
      {/* Above a dialog and its veil: what is refused there is said here. */}
      <Flex direction="column" align="flex-end" gap="8px" position="fixed" bottom="58px" right="24px" zIndex="40">
        <Notice said={ofJob?.said ?? null} onAway={() => setOfJob(null)} />
        <Notice said={ofAct} onAway={() => setOfAct(null)} />
      </Flex>
    </Context.Provider>
  )
}

const Notice = ({ said, onAway }: { readonly said: Said | null; readonly onAway: () => void }) => (
  <Box role={said?.tone === 'refused' ? 'alert' : 'status'} aria-live="polite">
    {said ? (
      <Box
        maxW="720px"
        maxH="60vh"
        overflow="auto"
        bg="sheet"
        px="14px"
        py="10px"
        borderWidth="1px"
        borderColor={said.tone === 'refused' ? 'crimson' : 'ink'}
        boxShadow="0 4px 18px rgba(0,0,0,.18)"
      >
        <Flex gap="16px" align="flex-start">
          <Box flex="1">
            <Span color={said.tone === 'refused' ? 'crimson' : 'inherit'} aria-hidden="true">
              {said.tone === 'refused' ? '▲ ' : '■ '}
            </Span>
            {said.text}
          </Box>
          {said.undo ? (
            <Button
              variant="ghost"
              onClick={() => {
                onAway()
                said.undo?.act()
              }}
            >
              {said.undo.label}
            </Button>
          ) : null}
          <Button variant="ghost" onClick={onAway}>
            Put away
          </Button>
        </Flex>
        {said.faults.length > 0 ? <Faults said={said} /> : null}
      </Box>
    ) : null}
  </Box>
)

const Faults = ({ said }: { readonly said: Said }) => (
  <Table.Root style={{ marginTop: 8 }} aria-label="Faults of the file">
    <Table.Header>
      <Table.Row>
        <Table.ColumnHeader textAlign="end">Row</Table.ColumnHeader>
        <Table.ColumnHeader>Column</Table.ColumnHeader>
        <Table.ColumnHeader>Found</Table.ColumnHeader>
        <Table.ColumnHeader>Expected</Table.ColumnHeader>
      </Table.Row>
    </Table.Header>
    <Table.Body>
      {said.faults.slice(0, 20).map(fault => (
        <Table.Row key={`${fault.row} ${fault.column} ${fault.expected}`}>
          <Table.Cell textAlign="end">{fault.row}</Table.Cell>
          <Table.Cell textStyle="mono">{fault.column}</Table.Cell>
          <Table.Cell textStyle="mono" style={{ maxWidth: 180 }}>
            {fault.value}
          </Table.Cell>
          <Table.Cell whiteSpace="normal" lineHeight="1.25">
            {fault.expected}
          </Table.Cell>
        </Table.Row>
      ))}
      {said.count > Math.min(20, said.faults.length) ? (
        <Table.Row>
          <Table.Cell colSpan={4} color="muted">
            and {said.count - Math.min(20, said.faults.length)} more
          </Table.Cell>
        </Table.Row>
      ) : null}
    </Table.Body>
  </Table.Root>
)

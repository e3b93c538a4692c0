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
}

const Context = createContext<NoticeContext>({ say: () => undefined, refuse: () => undefined })
export const useNotice = (): NoticeContext => useContext(Context)

const saidOf = (error: unknown): Said => ({
  tone: 'refused',
  text: error instanceof Error ? error.message : 'Something went wrong.',
  faults: error instanceof RequestRefused ? (error.problem.faults ?? []) : [],
  count: error instanceof RequestRefused ? (error.problem.count ?? 0) : 0,
  undo: null,
})

/** Shows the last thing that was done or refused, until it is put away or the next one comes. */
export const NoticeProvider = ({ children }: { readonly children: ReactNode }) => {
  const [said, setSaid] = useState<Said | null>(null)
  const say = useCallback(
    (text: string, undo: Undo | null = null) => setSaid({ tone: 'done', text, faults: [], count: 0, undo }),
    [],
  )
  const refuse = useCallback((error: unknown) => setSaid(saidOf(error)), [])
  const value = useMemo(() => ({ say, refuse }), [say, refuse])
  return (
    <Context.Provider value={value}>
      {children}
      <Box role={said?.tone === 'refused' ? 'alert' : 'status'} aria-live="polite">
        {said ? (
          <Box
            position="fixed"
            bottom="58px"
            right="24px"
            maxW="720px"
            maxH="60vh"
            overflow="auto"
            // Above a dialog and its veil: what is refused there is said here.
            zIndex="40"
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
                    setSaid(null)
                    said.undo?.act()
                  }}
                >
                  {said.undo.label}
                </Button>
              ) : null}
              <Button variant="ghost" onClick={() => setSaid(null)}>
                Put away
              </Button>
            </Flex>
            {said.faults.length > 0 ? (
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
            ) : null}
          </Box>
        ) : null}
      </Box>
    </Context.Provider>
  )
}

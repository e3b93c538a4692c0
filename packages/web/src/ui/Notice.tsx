import { Button, createToaster, Flex, Portal, Span, Table, Toast, Toaster } from '@chakra-ui/react'
import { csvRecord, plainCell } from '@culvert/core'
import { createContext, type ReactNode, useContext, useMemo, useRef, useState } from 'react'
import { RequestRefused } from '../context/request.ts'
import { saveText } from './saveText.ts'

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

const makeToaster = () =>
  createToaster({
    placement: 'bottom-end',
    offsets: { top: '24px', left: '16px', right: '24px', bottom: '58px' },
    overlap: false,
    gap: 8,
    // Nothing that was said goes away by itself.
    duration: Number.POSITIVE_INFINITY,
    removeDelay: 0,
  })

/** Shows the last thing that was done or refused, and the last that a job came to, until they are put away or the next comes. */
export const NoticeProvider = ({ children }: { readonly children: ReactNode }) => {
  const [toaster] = useState(makeToaster)
  const shown = useRef<{ act: string | null; job: { id: string; at: number } | null }>({ act: null, job: null })
  const value = useMemo<NoticeContext>(() => {
    const put = (said: Said): string =>
      toaster.create({ type: said.tone === 'refused' ? 'error' : 'info', meta: { said } })
    const away = (id: string | null | undefined): void => {
      if (id) toaster.remove(id)
    }
    const show = (said: Said): void => {
      const { act, job } = shown.current
      away(act)
      const isOld = job !== null && Date.now() - job.at >= jobStays
      if (isOld) away(job.id)
      shown.current = { act: put(said), job: isOld ? null : job }
    }
    return {
      say: (text, undo) => show(done(text, undo)),
      refuse: error => show(refusedBy(error)),
      tellOfJob: told => {
        away(shown.current.job?.id)
        const said = typeof told === 'string' ? done(told) : refusedBy(told)
        shown.current = { ...shown.current, job: { id: put(said), at: Date.now() } }
      },
    }
  }, [toaster])
  return (
    <Context.Provider value={value}>
      {children}
      {/* Beside the page, not in it: a dialog takes the page away from who listens, and what it was refused is said here. */}
      <Portal>
        <Toaster toaster={toaster}>
          {({ id, meta }) => <Notice said={meta?.said as Said} onAway={() => toaster.remove(id)} />}
        </Toaster>
      </Portal>
    </Context.Provider>
  )
}

const Notice = ({ said, onAway }: { readonly said: Said; readonly onAway: () => void }) => (
  <Toast.Root role={said.tone === 'refused' ? 'alert' : 'status'}>
    <Flex gap="16px" align="flex-start">
      <Toast.Title>
        <Span color={said.tone === 'refused' ? 'crimson' : 'inherit'} aria-hidden="true">
          {said.tone === 'refused' ? '▲ ' : '■ '}
        </Span>
        {said.text}
      </Toast.Title>
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
    {said.faults.length > 0 ? (
      <>
        <Faults said={said} />
        <Button
          variant="plain"
          mt="6px"
          onClick={() => saveText({ name: 'faults.csv', text: faultsCsv(said), type: 'text/csv' })}
        >
          Save the faults
        </Button>
      </>
    ) : null}
  </Toast.Root>
)

const faultsCsv = ({ faults, count }: Said): string =>
  [
    ['row', 'column', 'found', 'expected'],
    ...faults.map(fault => [String(fault.row), fault.column ?? '', plainCell(fault.value), fault.expected]),
    ...(count > faults.length ? [['', '', '', `and ${count - faults.length} more`]] : []),
  ]
    .map(csvRecord)
    .join('')

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

import { Box, Button, Span } from '@chakra-ui/react'
import { bankEndpoints as bank, type ImportPage, type PullRow, sourceEndpoints as sources } from '@culvert/contract'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { Act } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { AskDialog } from '../ui/AskDialog.tsx'
import { momentText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { goesText, holdText, takeBackText } from './importText.ts'

/** What a log’s row of a file says of taking it back: the button, or when that was done. Nothing for what is no file, or did not come in. */
export const TakeImportBack = ({ pull }: { readonly pull: PullRow }) => {
  const { clientId, timeZone } = useClient()
  const notice = useNotice()
  const { look, takeBack } = useImport(clientId, pull)
  const [page, setPage] = useState<ImportPage | null>(null)
  if (pull.takenBackAt) return <Span color="muted">taken back {momentText(pull.takenBackAt, timeZone)}</Span>
  if (pull.state !== 'done' || (pull.sort !== 'upload' && pull.sort !== 'statement')) return null
  const close = () => setPage(null)
  return (
    <>
      <Act
        right="bring"
        variant="ghost"
        textStyle="small"
        aria-label={`Take back ${pull.message}`}
        disabled={look.isPending || takeBack.isPending}
        onClick={() => look.mutate(undefined, { onSuccess: setPage, onError: notice.refuse })}
      >
        Take back
      </Act>
      {page && page.holds.length > 0 ? <Held page={page} onClose={close} /> : null}
      {page && page.holds.length === 0 ? (
        <AskDialog
          open
          title={`Take back ${page.name}`}
          act={takeBackText(page)}
          onClose={close}
          onAct={() =>
            takeBack.mutate(undefined, {
              onError: notice.refuse,
              onSuccess: done => notice.say(`${done.name} is taken back.`),
            })
          }
        >
          {goesText(page).map(text => (
            <Box key={text} mb="4px">
              {text}
            </Box>
          ))}
          {page.sums.map(({ currency, amount }) => (
            <Box key={currency}>
              Its lines come to {currency} <Amount minor={amount} currency={currency} />
            </Box>
          ))}
        </AskDialog>
      ) : null}
    </>
  )
}

const Held = ({ page, onClose }: { readonly page: ImportPage; readonly onClose: () => void }) => (
  <Modal
    open
    title={`${page.name} is not taken back`}
    onClose={onClose}
    foot={
      <Button autoFocus onClick={onClose}>
        Close
      </Button>
    }
  >
    <Box mb="6px">Something rests on it:</Box>
    {page.holds.map(({ code, count, names }) => (
      <Box key={code} mb="8px">
        <Box fontWeight="600">
          {holdText[code][0]}: {count.toLocaleString('en-IE')}
        </Box>
        <Box textStyle="mono" color="muted">
          {names.join(', ')}
          {count > names.length ? ' …' : ''}
        </Box>
        <Box>{holdText[code][1]}</Box>
      </Box>
    ))}
  </Modal>
)

const useImport = (clientId: number, { sort, subject, jobId }: PullRow) => {
  const queries = useQueryClient()
  const ofSource = { client: clientId, params: { source: subject, job: jobId } }
  const ofBank = { client: clientId, params: { job: jobId } }
  const isStatement = sort === 'statement'
  return {
    look: useMutation({
      mutationFn: () => (isStatement ? call(bank.importedStatement, ofBank) : call(sources.importedFile, ofSource)),
    }),
    takeBack: useMutation({
      mutationFn: () => (isStatement ? call(bank.takeStatementBack, ofBank) : call(sources.takeImportBack, ofSource)),
      onSettled: () => {
        void queries.invalidateQueries({ queryKey: ['client', clientId] })
      },
    }),
  }
}

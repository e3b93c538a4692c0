import { Button, Flex, Textarea } from '@chakra-ui/react'
import type { AccountBalance, ChartFile } from '@culvert/contract'
import { lazy, Suspense, useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { FromLedger } from '../files/FromLedger.tsx'
import { Act } from '../ui/Act.tsx'
import { FileButton } from '../ui/FileButton.tsx'
import { FormField } from '../ui/form/FormField.tsx'
import { Modal } from '../ui/Modal.tsx'
import { NewAccountDialog } from '../ui/NewAccountDialog.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { useChartActs } from './chartQueries.ts'

const ChartList = lazy(() => import('./ChartList.tsx').then(file => ({ default: file.ChartList })))

/** Adds accounts: one, or a list of them from a file or pasted. */
export const ChartTools = ({ accounts }: { readonly accounts: readonly AccountBalance[] }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { read } = useChartActs(clientId)
  const [adding, setAdding] = useState(false)
  const [pasting, setPasting] = useState(false)
  const [file, setFile] = useState<ChartFile | null>(null)
  const look = (of: File) => read.mutate(of, { onError: notice.refuse, onSuccess: setFile })
  return (
    <>
      <FileButton
        label="Bring in a list"
        accept=".csv,.txt,.xlsx"
        busy={read.isPending}
        onFiles={([one]) => one && look(one)}
      />
      <FromLedger list="chart" busy={read.isPending} onList={look} />
      <Act right="map" onClick={() => setPasting(true)}>
        Paste
      </Act>
      <Act right="map" variant="solid" onClick={() => setAdding(true)}>
        Add an account
      </Act>
      <NewAccountDialog
        open={adding}
        name=""
        type="income"
        accounts={accounts}
        onClose={() => setAdding(false)}
        onMade={code => {
          setAdding(false)
          notice.say(`Account ${code} is made.`)
        }}
      />
      {pasting ? (
        <PasteDialog
          onClose={() => setPasting(false)}
          onText={text => {
            setPasting(false)
            look(new File([text], 'pasted accounts.csv', { type: 'text/csv' }))
          }}
        />
      ) : null}
      {file ? (
        <Suspense fallback={null}>
          <ChartList file={file} onClose={() => setFile(null)} />
        </Suspense>
      ) : null}
    </>
  )
}

const PasteDialog = ({
  onClose,
  onText,
}: {
  readonly onClose: () => void
  readonly onText: (text: string) => void
}) => {
  const [text, setText] = useState('')
  return (
    <Modal
      open
      wide
      title="Paste accounts"
      changed={text !== ''}
      onClose={onClose}
      onSubmit={() => onText(text)}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={text.trim() === ''}>
            Look at them
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <Flex direction="column">
        <FormField
          label="Rows with a head, as copied from a sheet"
          hint="number, name and type; a head in any of six languages"
        >
          <Textarea
            rows={12}
            textStyle="mono"
            autoFocus
            value={text}
            placeholder={'Number\tName\tType\n4000\tSales\tIncome'}
            onChange={event => setText(event.target.value)}
          />
        </FormField>
      </Flex>
    </Modal>
  )
}

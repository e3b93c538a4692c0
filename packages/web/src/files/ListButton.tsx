import { Box, Button } from '@chakra-ui/react'
import type { ListAsks, ListQuery } from '@culvert/contract'
import { type ReactNode, useState } from 'react'
import { useMay } from '../context/useMay.ts'
import { FileButton } from '../ui/FileButton.tsx'
import { type ChoiceOf, Choices } from '../ui/form/Choices.tsx'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { FromLedger, type LedgerList } from './FromLedger.tsx'

interface Read {
  readonly asks: readonly ListAsks[]
}

interface ListButtonProps<Result extends Read> {
  readonly label: string
  /** The list of an outside ledger that it is brought over from, where one is linked. */
  readonly ledger?: LedgerList
  readonly ledgerWhat?: string
  readonly read: (file: File, told: ListQuery) => Promise<Result>
  /** What is shown of the list once nothing is asked any more, and what taking it does. */
  readonly shown: (result: Result, close: () => void) => Shown
}

interface Shown {
  readonly title: string
  readonly body: ReactNode
  /** Null: nothing of it can be taken. */
  readonly act: string | null
  readonly onTake: () => void
  readonly busy: boolean
  /** Said beside the button. */
  readonly note?: ReactNode
}

/** Brings in a list: what could be read two ways is asked, and what it would change is seen before it is taken. */
export const ListButton = <Result extends Read>({
  label,
  ledger,
  ledgerWhat,
  read,
  shown,
}: ListButtonProps<Result>) => {
  const may = useMay()
  const notice = useNotice()
  const [file, setFile] = useState<File | null>(null)
  const [told, setTold] = useState<ListQuery>({})
  const [result, setResult] = useState<Result | null>(null)
  const [busy, setBusy] = useState(false)
  const close = () => {
    setFile(null)
    setResult(null)
    setTold({})
  }
  const look = async (of: File, said: ListQuery): Promise<void> => {
    setBusy(true)
    setTold(said)
    try {
      setResult(await read(of, said))
      setFile(of)
    } catch (error) {
      notice.refuse(error)
      close()
    } finally {
      setBusy(false)
    }
  }
  if (!may('map')) return null
  const [ask] = result?.asks ?? []
  const show = result && !ask ? shown(result, close) : null
  return (
    <>
      <FileButton
        label={label}
        accept=".csv,.txt,.xlsx,.xml"
        busy={busy}
        onFiles={([one]) => one && void look(one, {})}
      />
      {ledger ? <FromLedger list={ledger} what={ledgerWhat} busy={busy} onList={one => void look(one, {})} /> : null}
      {file && result ? (
        <Modal
          open
          wide
          title={ask ? 'One question about the list' : (show?.title ?? '')}
          onClose={close}
          onSubmit={() => (show?.act && !show.busy ? show.onTake() : undefined)}
          foot={
            <>
              {show ? (
                <Button type="submit" variant="solid" disabled={show.act === null || show.busy}>
                  {show.act ?? 'Nothing to take'}
                </Button>
              ) : null}
              <Button onClick={close}>Cancel</Button>
              {show?.note}
            </>
          }
        >
          {ask ? (
            <Question ask={ask} busy={busy} onSay={said => void look(file, { ...told, ...said })} />
          ) : (
            <Box maxH="420px" overflowY="auto">
              {show?.body}
            </Box>
          )}
        </Modal>
      ) : null}
    </>
  )
}

const decimals: readonly ChoiceOf<'.' | ','>[] = [
  { value: '.', text: 'a point before the decimals', detail: '1,234.50' },
  { value: ',', text: 'a comma before the decimals', detail: '1.234,50' },
]
const orders: readonly ChoiceOf<'ymd' | 'dmy' | 'mdy'>[] = [
  { value: 'dmy', text: 'day, month, year', detail: '5/3/2026 is 5 March' },
  { value: 'mdy', text: 'month, day, year', detail: '5/3/2026 is 3 May' },
]

const Question = ({
  ask,
  busy,
  onSay,
}: {
  readonly ask: ListAsks
  readonly busy: boolean
  readonly onSay: (said: ListQuery) => void
}) => (
  <>
    <Box mb="10px">
      “{ask.value}” could be read two ways. {ask.what === 'decimal' ? 'Its numbers are written with' : 'Its dates are'}
    </Box>
    {ask.what === 'decimal' ? (
      <Choices
        label="Numbers"
        choices={decimals}
        value={null}
        disabled={busy}
        onChange={decimal => onSay({ decimal })}
      />
    ) : (
      <Choices label="Dates" choices={orders} value={null} disabled={busy} onChange={order => onSay({ order })} />
    )}
  </>
)

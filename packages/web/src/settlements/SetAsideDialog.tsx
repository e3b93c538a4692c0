import { useState } from 'react'
import { Button } from '../ui/Button.tsx'
import { countText } from '../ui/formats.ts'
import { Input } from '../ui/Input.tsx'
import { Modal } from '../ui/Modal.tsx'

interface SetAsideProps {
  readonly open: boolean
  readonly count: number
  readonly onClose: () => void
  readonly onDone: (reason: string) => void
}

/** Asks why settlements are left out. */
export const SetAsideDialog = ({ open, count, onClose, onDone }: SetAsideProps) => {
  const [reason, setReason] = useState('')
  return (
    <Modal
      open={open}
      onClose={onClose}
      title={`Set ${countText(count, 'settlement')} aside`}
      foot={
        <>
          <Button onClick={onClose}>Leave as it is</Button>
          <Button look="main" disabled={reason.trim() === ''} onClick={() => onDone(reason)}>
            Set aside
          </Button>
        </>
      }
    >
      <label htmlFor="aside-reason">Why it is left out; the proof keeps counting it.</label>
      <Input id="aside-reason" w="100%" mt="6px" value={reason} onChange={event => setReason(event.target.value)} />
    </Modal>
  )
}

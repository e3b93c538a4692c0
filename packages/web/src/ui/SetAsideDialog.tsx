import { Button, Input } from '@chakra-ui/react'
import { useState } from 'react'
import { Modal } from './Modal.tsx'

interface SetAsideProps {
  readonly open: boolean
  /** What is left out: “3 settlements”. */
  readonly what: string
  /** What leaving it out means for the rest. */
  readonly hint: string
  readonly onClose: () => void
  readonly onDone: (reason: string) => void
}

/** Asks why something is left out. */
export const SetAsideDialog = ({ open, what, hint, onClose, onDone }: SetAsideProps) => {
  const [reason, setReason] = useState('')
  return (
    <Modal
      open={open}
      onClose={onClose}
      title={`Set ${what} aside`}
      foot={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="solid" disabled={reason.trim().length < 3} onClick={() => onDone(reason)}>
            Set aside
          </Button>
        </>
      }
    >
      <label htmlFor="aside-reason">Why it is left out; {hint}</label>
      <Input id="aside-reason" w="100%" mt="6px" value={reason} onChange={event => setReason(event.target.value)} />
    </Modal>
  )
}

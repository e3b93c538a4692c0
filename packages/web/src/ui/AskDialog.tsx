import { Button } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { Modal } from './Modal.tsx'

interface AskDialogProps {
  readonly open: boolean
  readonly title: string
  /** The act as its button says it. */
  readonly act: string
  readonly onAct: () => void
  readonly onClose: () => void
  /** What it comes to: how many, what money, which dates. */
  readonly children: ReactNode
}

/** Asks before something is done to many things at once. Enter does it, Escape does not. */
export const AskDialog = ({ open, title, act, onAct, onClose, children }: AskDialogProps) => (
  <Modal
    open={open}
    title={title}
    onClose={onClose}
    foot={
      <>
        <Button
          variant="solid"
          autoFocus
          onClick={() => {
            onClose()
            onAct()
          }}
        >
          {act}
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </>
    }
  >
    {children}
  </Modal>
)

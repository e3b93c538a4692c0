import { Button } from '@chakra-ui/react'
import { type ReactNode, useRef } from 'react'

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
        <Doing
          act={act}
          onAct={() => {
            onClose()
            onAct()
          }}
        />
        <Button onClick={onClose}>Cancel</Button>
      </>
    }
  >
    {children}
  </Modal>
)

/** Does it once, however fast it is pressed: each question has a button of its own. */
const Doing = ({ act, onAct }: Pick<AskDialogProps, 'act' | 'onAct'>) => {
  const done = useRef(false)
  return (
    <Button
      variant="solid"
      autoFocus
      onClick={() => {
        if (done.current) return
        done.current = true
        onAct()
      }}
    >
      {act}
    </Button>
  )
}

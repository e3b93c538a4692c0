import { Dialog, Portal } from '@chakra-ui/react'
import type { ReactNode } from 'react'

interface ModalProps {
  readonly open: boolean
  readonly title: string
  readonly onClose: () => void
  /** For what is written side by side. */
  readonly wide?: boolean
  readonly children: ReactNode
  readonly foot?: ReactNode
}

/** A dialog over the page; Escape closes it. */
export const Modal = ({ open, title, onClose, wide, children, foot }: ModalProps) => (
  <Dialog.Root
    open={open}
    onOpenChange={details => (details.open ? undefined : onClose())}
    size={wide ? 'lg' : 'md'}
    lazyMount
    unmountOnExit
  >
    <Portal>
      <Dialog.Backdrop />
      <Dialog.Positioner>
        <Dialog.Content>
          <Dialog.Header>
            <Dialog.Title>{title}</Dialog.Title>
          </Dialog.Header>
          <Dialog.Body>{children}</Dialog.Body>
          {foot ? <Dialog.Footer>{foot}</Dialog.Footer> : null}
        </Dialog.Content>
      </Dialog.Positioner>
    </Portal>
  </Dialog.Root>
)

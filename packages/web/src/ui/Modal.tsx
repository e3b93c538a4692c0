import { Dialog, Portal } from '@chakra-ui/react'
import type { ReactNode } from 'react'

interface ModalProps {
  readonly open: boolean
  readonly title: string
  readonly onClose: () => void
  readonly children: ReactNode
  readonly foot?: ReactNode
}

/** A dialog over the page; Escape closes it. */
export const Modal = ({ open, title, onClose, children, foot }: ModalProps) => (
  <Dialog.Root
    open={open}
    onOpenChange={details => (details.open ? undefined : onClose())}
    placement="center"
    size="md"
    motionPreset="none"
    lazyMount
    unmountOnExit
  >
    <Portal>
      <Dialog.Backdrop bg="rgba(20,24,28,.35)" />
      <Dialog.Positioner>
        <Dialog.Content
          bg="var(--sheet)"
          color="var(--ink)"
          borderWidth="1px"
          borderColor="var(--hairline)"
          borderRadius="2px"
        >
          <Dialog.Header pb="6px">
            <Dialog.Title fontSize="16px" fontWeight="600">
              {title}
            </Dialog.Title>
          </Dialog.Header>
          <Dialog.Body>{children}</Dialog.Body>
          {foot ? <Dialog.Footer gap="10px">{foot}</Dialog.Footer> : null}
        </Dialog.Content>
      </Dialog.Positioner>
    </Portal>
  </Dialog.Root>
)

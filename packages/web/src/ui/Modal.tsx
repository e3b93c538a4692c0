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
    motionPreset="none"
    lazyMount
    unmountOnExit
  >
    <Portal>
      {/* Sizes are given here: the recipe's are tokens that our theme leaves out. */}
      <Dialog.Backdrop bg="rgba(20,24,28,.35)" position="fixed" inset="0" zIndex="30" />
      <Dialog.Positioner
        position="fixed"
        inset="0"
        zIndex="31"
        display="flex"
        alignItems="center"
        justifyContent="center"
        p="16px"
      >
        <Dialog.Content
          m="0"
          w={wide ? '760px' : '520px'}
          maxW="100%"
          maxH="100%"
          overflow="auto"
          boxShadow="0 12px 40px rgba(0,0,0,.22)"
          bg="var(--sheet)"
          color="var(--ink)"
          borderWidth="1px"
          borderColor="var(--hairline)"
          borderRadius="2px"
        >
          <Dialog.Header px="20px" pt="16px" pb="10px">
            <Dialog.Title fontSize="16px" fontWeight="600">
              {title}
            </Dialog.Title>
          </Dialog.Header>
          <Dialog.Body px="20px" pt="0" pb="6px">
            {children}
          </Dialog.Body>
          {foot ? (
            <Dialog.Footer gap="10px" px="20px" pt="8px" pb="16px" alignItems="center">
              {foot}
            </Dialog.Footer>
          ) : null}
        </Dialog.Content>
      </Dialog.Positioner>
    </Portal>
  </Dialog.Root>
)

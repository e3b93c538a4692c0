import { Button, Dialog, Portal, Span } from '@chakra-ui/react'
import { type FormEvent, type ReactNode, useState } from 'react'

interface ModalProps {
  readonly open: boolean
  readonly title: string
  readonly onClose: () => void
  /** For what is written side by side. */
  readonly wide?: boolean
  /** What its main button, of type submit, and Enter in a field do. */
  readonly onSubmit?: () => void
  /** Something was changed in it: then Escape asks before that is lost. */
  readonly changed?: boolean
  readonly children: ReactNode
  readonly foot?: ReactNode
}

/** A dialog over the page; Escape closes it. */
export const Modal = (props: ModalProps) => {
  const { open, onClose, onSubmit, changed = false } = props
  const [asking, setAsking] = useState(false)
  // Escape asks, and takes the question back: held down it must not lose what was written.
  const leave = (): void => (changed ? setAsking(!asking) : onClose())
  const submit = (event: FormEvent): void => {
    event.preventDefault()
    // A dialog may be opened from within a form of the page, whose it is not.
    event.stopPropagation()
    setAsking(false)
    onSubmit?.()
  }
  return (
    <Dialog.Root
      open={open}
      onOpenChange={details => (details.open ? undefined : leave())}
      closeOnInteractOutside={!changed}
      size={props.wide ? 'lg' : 'md'}
      lazyMount
      unmountOnExit
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content>
            <Dialog.Header>
              <Dialog.Title>{props.title}</Dialog.Title>
            </Dialog.Header>
            {onSubmit ? (
              <form noValidate onSubmit={submit}>
                <Inside {...props} />
              </form>
            ) : (
              <Inside {...props} />
            )}
            {asking && changed ? <AskToDiscard onStay={() => setAsking(false)} onDiscard={onClose} /> : null}
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}

const Inside = ({ children, foot }: Pick<ModalProps, 'children' | 'foot'>) => (
  <>
    <Dialog.Body>{children}</Dialog.Body>
    {foot ? <Dialog.Footer>{foot}</Dialog.Footer> : null}
  </>
)

interface AskToDiscardProps {
  readonly onStay: () => void
  readonly onDiscard: () => void
}

const AskToDiscard = ({ onStay, onDiscard }: AskToDiscardProps) => (
  <Dialog.Footer role="alert" borderTopWidth="1px" borderColor="ochre" bg="ochre.wash">
    <Span flex="1">What was written here is not saved.</Span>
    <Button variant="solid" autoFocus onClick={onStay}>
      Go on writing
    </Button>
    <Button onClick={onDiscard}>Discard</Button>
  </Dialog.Footer>
)

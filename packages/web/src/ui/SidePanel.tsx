import { Button, Drawer, Kbd, Portal, useBreakpointValue } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { useKey } from './keys.ts'

interface SidePanelProps {
  readonly open: boolean
  readonly title: string
  readonly onClose: () => void
  readonly children: ReactNode
}

/** A panel at the right: beside the page where there is room for it, and over it where there is none. */
export const SidePanel = ({ open, title, onClose, children }: SidePanelProps) => {
  const beside = useBreakpointValue({ base: false, xl: true }, { ssr: false }) ?? false
  // Escape closes it from wherever one is on the page beside it.
  useKey('escape', `close “${title}”`, onClose, open && beside)
  return (
    <Drawer.Root
      open={open}
      onOpenChange={details => (details.open ? undefined : onClose())}
      placement="end"
      modal={!beside}
      trapFocus={!beside}
      preventScroll={!beside}
      closeOnInteractOutside={!beside}
      closeOnEscape={!beside}
      initialFocusEl={() => (beside ? (document.activeElement as HTMLElement | null) : null)}
      lazyMount
      unmountOnExit
    >
      <Portal>
        {beside ? null : <Drawer.Backdrop />}
        <Drawer.Positioner>
          <Drawer.Content>
            <Drawer.Header>
              <Drawer.Title>{title}</Drawer.Title>
              <Button variant="ghost" onClick={onClose}>
                Close <Kbd>Esc</Kbd>
              </Button>
            </Drawer.Header>
            <Drawer.Body>{children}</Drawer.Body>
          </Drawer.Content>
        </Drawer.Positioner>
      </Portal>
    </Drawer.Root>
  )
}

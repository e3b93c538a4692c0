import { Flex, Kbd, Switch, Table } from '@chakra-ui/react'
import { switchSingleKeys, useKeysOfPage, useSingleKeys } from '../ui/keysOfPage.ts'
import { Modal } from '../ui/Modal.tsx'

const shownKey: Readonly<Record<string, string>> = {
  enter: 'Enter',
  space: 'Space',
  escape: 'Esc',
  esc: 'Esc',
  down: '↓',
  up: '↑',
  left: '←',
  right: '→',
  'ctrl+s': 'Ctrl S',
  'ctrl+k': 'Ctrl K',
}

/** The keys of this page as it stands, and whether single letters are keys at all. */
export const KeysDialog = ({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) => {
  const announced = useKeysOfPage()
  const singles = useSingleKeys()
  const keys = [...new Map(announced.map(key => [key.keys + key.does, key])).values()]
  return (
    <Modal open={open} title="Keys of this page" onClose={onClose}>
      <Table.Root unstyled>
        <Table.Body>
          {keys.map(({ keys: pressed, does }) => (
            <Table.Row key={pressed + does}>
              <Table.Cell py="3px" pr="16px" whiteSpace="nowrap">
                <Flex gap="5px">
                  {pressed.split(' ').map(key => (
                    <Kbd key={key}>{shownKey[key] ?? key}</Kbd>
                  ))}
                </Flex>
              </Table.Cell>
              <Table.Cell>{does}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      <Switch.Root mt="14px" mb="10px" checked={singles} onCheckedChange={({ checked }) => switchSingleKeys(checked)}>
        <Switch.HiddenInput />
        <Switch.Control>
          <Switch.Thumb />
        </Switch.Control>
        <Switch.Label>Single letters and digits are keys</Switch.Label>
      </Switch.Root>
    </Modal>
  )
}

import { Box, Flex, Table } from '@chakra-ui/react'
import type { PeoplePage, Role } from '@culvert/contract'
import { Choices } from '../ui/form/Choices.tsx'
import { Select } from '../ui/Select.tsx'
import { roleDoes, roleWords } from './roleWords.ts'

type OfClient = { readonly clientId: number; readonly role: Exclude<Role, 'owner'> }
const ofPractice: readonly Role[] = ['owner', 'bookkeeper', 'junior', 'accountant', 'guest']
const ofClient: readonly OfClient['role'][] = ['bookkeeper', 'junior', 'accountant', 'guest']

interface RoleFieldsProps {
  readonly role: Role
  readonly clients: readonly OfClient[]
  readonly all: PeoplePage['clients']
  readonly onChange: (to: { role: Role; clients: OfClient[] }) => void
}

/** What somebody is of the practice, and of each client. Choosing what they are of the practice sets it for all the clients that they are of. */
export const RoleFields = ({ role, clients, all, onChange }: RoleFieldsProps) => {
  const roleOf = (clientId: number) => clients.find(one => one.clientId === clientId)?.role ?? ''
  const setRole = (to: Role): void =>
    onChange({ role: to, clients: to === 'owner' ? [] : clients.map(one => ({ ...one, role: to })) })
  const setClient = (clientId: number, to: string): void => {
    const others = clients.filter(one => one.clientId !== clientId)
    const chosen = ofClient.find(one => one === to)
    onChange({ role, clients: chosen ? [...others, { clientId, role: chosen }] : others })
  }
  return (
    <Flex direction="column" gap="14px">
      <Choices
        label="Of the practice"
        value={role}
        choices={ofPractice.map(one => ({ value: one, text: roleWords[one], detail: roleDoes[one] }))}
        onChange={setRole}
      />
      {role === 'owner' ? (
        <Box color="muted">An owner is one of all clients, also of those to come.</Box>
      ) : (
        <Box maxH="260px" overflowY="auto">
          <Table.Root aria-label="Of each client">
            <Table.Body>
              {all.map(({ clientId, name }) => (
                <Table.Row key={clientId}>
                  <Table.Cell>{name}</Table.Cell>
                  <Table.Cell style={{ width: 170 }}>
                    <Select
                      w="100%"
                      aria-label={`Of ${name}`}
                      value={roleOf(clientId)}
                      onChange={event => setClient(clientId, event.target.value)}
                    >
                      <option value="">nothing</option>
                      {ofClient.map(one => (
                        <option key={one} value={one}>
                          {roleWords[one]}
                        </option>
                      ))}
                    </Select>
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Box>
      )}
    </Flex>
  )
}

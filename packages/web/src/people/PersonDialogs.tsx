import { Box, Button, Flex } from '@chakra-ui/react'
import { inviteBody, type PeoplePage, type PersonRow, personBody, type Role } from '@culvert/contract'
import { useWatch } from 'react-hook-form'
import { TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { momentText, zoneText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { usePeopleActs } from './peopleQueries.ts'
import { RoleFields } from './RoleFields.tsx'
import { Refusal } from './SignInForm.tsx'

interface DialogProps {
  readonly page: PeoplePage
  readonly onClose: () => void
}

/** Invites somebody: their address, and what they are to be. The link is shown, to be handed over where no letter goes. */
export const InviteDialog = ({ page, onClose }: DialogProps) => {
  const { invite } = usePeopleActs()
  const form = useSchemaForm(inviteBody, { email: '', role: 'bookkeeper', clients: [] })
  const [role, clients] = useWatch({ control: form.control, name: ['role', 'clients'] })
  const send = form.handleSubmit(body => invite.mutate(body))
  if (invite.data)
    return (
      <Modal open title="Invited" onClose={onClose} foot={<Button onClick={onClose}>Done</Button>}>
        <Box mb="8px">
          {invite.data.mailed
            ? 'A letter with this link is on its way. It is good for seven days, once:'
            : 'No letter could be sent: hand this link over yourself. It is good for seven days, once, and is not shown again:'}
        </Box>
        <Box textStyle="mono" p="8px" borderWidth="1px" borderColor="hairline" wordBreak="break-all">
          {invite.data.link}
        </Box>
      </Modal>
    )
  return (
    <Modal
      open
      title="Invite somebody"
      changed={form.formState.isDirty}
      onClose={onClose}
      onSubmit={() => (invite.isPending ? undefined : void send())}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={invite.isPending}>
            Invite
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <TextField control={form.control} name="email" label="Address" type="email" autoFocus />
      <Box mt="14px">
        <RoleFields
          role={role}
          clients={clients ?? []}
          all={page.clients}
          onChange={to => {
            form.setValue('role', to.role, { shouldDirty: true })
            form.setValue('clients', to.clients, { shouldDirty: true })
          }}
        />
      </Box>
      <Refusal of={invite.error} />
    </Modal>
  )
}

const isOfClient = (one: PersonRow['clients'][number]): one is { clientId: number; role: Exclude<Role, 'owner'> } =>
  one.role !== 'owner'

/** Says what somebody may do, or lets them go. */
export const PersonDialog = ({ page, person, onClose }: DialogProps & { readonly person: PersonRow }) => {
  const notice = useNotice()
  const { set } = usePeopleActs()
  const form = useSchemaForm(personBody, { role: person.role, clients: person.clients.filter(isOfClient) })
  const [role, clients] = useWatch({ control: form.control, name: ['role', 'clients'] })
  const save = form.handleSubmit(body =>
    set.mutate(
      { person: person.id, body },
      {
        onSuccess: () => {
          notice.say(`Saved what ${person.name} may do.`)
          onClose()
        },
      },
    ),
  )
  return (
    <Modal
      open
      title={person.name}
      changed={form.formState.isDirty}
      onClose={onClose}
      onSubmit={() => (set.isPending ? undefined : void save())}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={!form.formState.isDirty || set.isPending}>
            Save
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <RoleFields
        role={role}
        clients={clients}
        all={page.clients}
        onChange={to => {
          form.setValue('role', to.role, { shouldDirty: true })
          form.setValue('clients', to.clients, { shouldDirty: true })
        }}
      />
      {person.secondFactor ? <LostFactor person={person} onDone={onClose} /> : null}
      <Refusal of={set.error} />
    </Modal>
  )
}

/** A second factor that was lost ends in a day, for which time its person can keep it. */
const LostFactor = ({ person, onDone }: { readonly person: PersonRow; readonly onDone: () => void }) => {
  const notice = useNotice()
  const { endFactor, keepFactor } = usePeopleActs()
  const ends = person.factorEndsAt
  const done = (said: string) => ({
    onError: notice.refuse,
    onSuccess: () => {
      notice.say(said)
      onDone()
    },
  })
  return (
    <Flex mt="14px" gap="12px" align="center">
      <Box color="muted" textStyle="small" flex="1">
        {ends
          ? `The second factor ends ${momentText(ends, zone)}, ${zoneText(zone)}, unless it is used before.`
          : 'Lost the second factor? It can be ended: they are told at once, and it takes a day.'}
      </Box>
      <Button
        disabled={endFactor.isPending || keepFactor.isPending}
        onClick={() =>
          ends
            ? keepFactor.mutate(person.id, done(`${person.name}’s second factor stays.`))
            : endFactor.mutate(
                person.id,
                done(`${person.name}’s second factor ends in a day. They are told by letter.`),
              )
        }
      >
        {ends ? 'Keep it' : 'End it'}
      </Button>
    </Flex>
  )
}

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone

import { Box, Button, Flex, QrCode, Span } from '@chakra-ui/react'
import { passwordBody, secondFactorBody } from '@culvert/contract'
import { useState } from 'react'
import { TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { useAccountActs } from './peopleQueries.ts'
import { Refusal } from './SignInForm.tsx'

/** A second factor: set up, or ended. */
export const SecondFactor = ({ on }: { readonly on: boolean }) => {
  const [asking, setAsking] = useState<'begin' | 'end' | null>(null)
  return (
    <>
      <Flex gap="14px" align="center" minH="34px">
        <Span color={on ? undefined : 'muted'}>
          {on ? '■ asked for at each sign-in' : 'none: the password alone lets you in'}
        </Span>
        <Button onClick={() => setAsking(on ? 'end' : 'begin')}>{on ? 'End it' : 'Set it up'}</Button>
      </Flex>
      {asking === 'begin' ? <BeginSecondFactor onClose={() => setAsking(null)} /> : null}
      {asking === 'end' ? <EndSecondFactor onClose={() => setAsking(null)} /> : null}
    </>
  )
}

const BeginSecondFactor = ({ onClose }: { readonly onClose: () => void }) => {
  const notice = useNotice()
  const { beginSecondFactor, confirmSecondFactor } = useAccountActs()
  const password = useSchemaForm(passwordBody, { password: '' })
  const code = useSchemaForm(secondFactorBody, { code: '' })
  const { data } = beginSecondFactor
  const begin = password.handleSubmit(body => beginSecondFactor.mutate(body))
  const confirm = code.handleSubmit(body =>
    confirmSecondFactor.mutate(body, {
      onSuccess: () => {
        notice.say('From now on a code is asked for when you sign in.')
        onClose()
      },
    }),
  )
  return (
    <Modal
      open
      title="Second factor"
      changed={data !== undefined}
      onClose={onClose}
      onSubmit={() => void (data ? confirm() : begin())}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={beginSecondFactor.isPending || confirmSecondFactor.isPending}>
            {data ? 'Confirm' : 'Go on'}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      {data ? (
        <>
          <Flex gap="18px" align="flex-start">
            <QrCode.Root value={data.uri} css={{ bg: '#fff', p: '8px', flexShrink: '0' }}>
              {/* Read by a camera: dark on light in either theme. */}
              <QrCode.Frame style={{ width: '150px', height: '150px', fill: '#000' }}>
                <QrCode.Pattern />
              </QrCode.Frame>
            </QrCode.Root>
            <Box>
              Let your authenticator read the square, or type this into it:
              <Box textStyle="mono" my="6px" wordBreak="break-all">
                {data.secret}
              </Box>
              <TextField
                control={code.control}
                name="code"
                label="The code it shows"
                autoComplete="one-time-code"
                w="160px"
                autoFocus
              />
            </Box>
          </Flex>
          <Box mt="14px">
            Recovery codes, for when it is lost: each is good once. Keep them where your password is not. They are not
            shown again.
          </Box>
          <Box
            as="ul"
            aria-label="Recovery codes"
            listStyleType="none"
            m="6px 0 0"
            p="0"
            columnCount={2}
            textStyle="mono"
          >
            {data.recoveryCodes.map(one => (
              <li key={one}>{one}</li>
            ))}
          </Box>
          <Refusal of={confirmSecondFactor.error} />
        </>
      ) : (
        <>
          <TextField
            control={password.control}
            name="password"
            label="Your password"
            type="password"
            autoComplete="current-password"
            autoFocus
          />
          <Refusal of={beginSecondFactor.error} />
        </>
      )}
    </Modal>
  )
}

const EndSecondFactor = ({ onClose }: { readonly onClose: () => void }) => {
  const notice = useNotice()
  const { endSecondFactor } = useAccountActs()
  const form = useSchemaForm(passwordBody, { password: '' })
  const end = form.handleSubmit(body =>
    endSecondFactor.mutate(body, {
      onSuccess: () => {
        notice.say('No code is asked for any more.')
        onClose()
      },
    }),
  )
  return (
    <Modal
      open
      title="End the second factor"
      onClose={onClose}
      onSubmit={() => void end()}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={endSecondFactor.isPending}>
            End it
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <TextField
        control={form.control}
        name="password"
        label="Your password"
        type="password"
        autoComplete="current-password"
        autoFocus
      />
      <Refusal of={endSecondFactor.error} />
    </Modal>
  )
}

import { Button } from '@chakra-ui/react'
import { z } from 'zod'
import { TextField } from './form/fields.tsx'
import { useSchemaForm } from './form/useSchemaForm.ts'
import { Modal } from './Modal.tsx'

export interface SetAsideProps {
  readonly open: boolean
  /** What is left out: “3 settlements”. */
  readonly what: string
  /** What leaving it out means for the rest. */
  readonly hint: string
  /** In place of setting it aside: what the dialog, its button and its field are called. */
  readonly words?: { readonly title: string; readonly act: string; readonly label: string }
  readonly onClose: () => void
  readonly onDone: (reason: string) => void
}

const reasoned = z.object({ reason: z.string().trim().min(3, 'Say why, in a word or two.').max(500) })

/** Asks why something is left out. */
const SetAside = ({ what, hint, words, onClose, onDone }: Omit<SetAsideProps, 'open'>) => {
  const form = useSchemaForm(reasoned, { reason: '' })
  const set = form.handleSubmit(({ reason }) => onDone(reason))
  return (
    <Modal
      open
      onSubmit={() => void set()}
      changed={form.formState.isDirty}
      onClose={onClose}
      title={words?.title ?? `Set ${what} aside`}
      foot={
        <>
          <Button type="submit" variant="solid">
            {words?.act ?? 'Set aside'}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <TextField control={form.control} name="reason" label={words?.label ?? `Why it is left out; ${hint}`} autoFocus />
    </Modal>
  )
}

export default SetAside

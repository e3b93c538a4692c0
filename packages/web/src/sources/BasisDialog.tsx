import { Box, Button, chakra, Span } from '@chakra-ui/react'
import type { BasisEffect, SourceOptionsBody } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { countText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { basisText } from './basisText.ts'
import { basisQuery } from './sourceQueries.ts'

interface BasisDialogProps {
  readonly source: string
  readonly name: string
  readonly to: Pick<SourceOptionsBody, 'dateBasis' | 'cutOff' | 'timeZone'>
  readonly busy: boolean
  readonly onClose: () => void
  readonly onSave: () => void
}

/** Another moment, zone or cut-off by which lines count touches every line that is stored: what it would do is said before it is done. */
export const BasisDialog = ({ source, name, to, busy, onClose, onSave }: BasisDialogProps) => {
  const { clientId } = useClient()
  const { data, error } = useQuery(basisQuery(clientId, source, to))
  return (
    <Modal
      open
      title={`Count the days of ${name} anew?`}
      onClose={onClose}
      foot={
        <>
          <Button variant="solid" disabled={!data || busy} onClick={onSave}>
            {data ? `Save and count ${countText(data.lines, 'line')} anew` : 'Save'}
          </Button>
          <Button onClick={onClose}>Keep them as they are</Button>
        </>
      }
    >
      {error ? (
        <Span color="crimson">{error.message}</Span>
      ) : data ? (
        <Effect effect={data} to={to.dateBasis} />
      ) : (
        'Going through the lines…'
      )}
    </Modal>
  )
}

const Effect = ({ effect, to }: { readonly effect: BasisEffect; readonly to: SourceOptionsBody['dateBasis'] }) => (
  <Box as="ul" pl="18px" style={{ listStyle: 'disc' }}>
    <li>
      {countText(effect.moved, 'line')} of {effect.lines.toLocaleString('en-IE')} will count on another day
    </li>
    <chakra.li {...(effect.waiting > 0 ? { color: 'ochre', fontWeight: '600' } : {})}>
      {countText(effect.waiting, 'line')} will wait{to === 'order' ? '' : `: ${basisText[to]} is not known of them`}
    </chakra.li>
    {effect.released > 0 ? <li>{countText(effect.released, 'line')} that wait today will count</li> : null}
    <li>
      {effect.posted === 0
        ? 'no posted settlement is touched'
        : `${countText(effect.posted, 'posted settlement')} touched: each gets a correction that you book`}
    </li>
  </Box>
)

import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { ActRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { useMay } from '../context/useMay.ts'
import { AskDialog } from '../ui/AskDialog.tsx'
import { momentText, zoneText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { ActObjects } from './ActObjects.tsx'
import { actQuery } from './actQueries.ts'
import { actText, personText } from './actWords.ts'
import { keysToTakeBack, wayBackOf } from './takeBackActs.ts'
import { useTakeBack } from './useTakeBack.ts'

/** One act with all that it touched; what can be is taken back from here. */
export const ActDialog = ({ act, onClose }: { readonly act: ActRow; readonly onClose: () => void }) => {
  const { clientId, timeZone } = useClient()
  const may = useMay()
  const { data = act } = useQuery(actQuery(clientId, act.actId))
  const [asking, setAsking] = useState(false)
  const { run } = useTakeBack()
  const way = wayBackOf(act.sort)
  const keys = keysToTakeBack([data])
  const canTakeBack = way !== null && may(way.right) && keys.length > 0
  return (
    <Modal
      open
      wide
      title={`${personText(act)} ${actText(act.sort)}`}
      onClose={onClose}
      foot={
        <Flex gap="10px">
          {canTakeBack ? (
            <Button disabled={run.isPending} onClick={() => setAsking(true)}>
              Take back
            </Button>
          ) : null}
          <Button onClick={onClose}>Close</Button>
        </Flex>
      }
    >
      <Box color="muted" mb="10px">
        {momentText(act.at, timeZone)} {zoneText(timeZone)}
        {act.note ? <Span> · {act.note}</Span> : null}
        {act.seq === null ? <Span> · done before acts were sealed</Span> : <Span> · seal {act.seq}</Span>}
      </Box>
      <Box maxH="50vh" overflowY="auto" tabIndex={0} role="region" aria-label="What it touched">
        <ActObjects objects={data.objects} count={data.count} />
      </Box>
      <AskDialog
        open={asking}
        title={`Take back ${way?.what(keys.length) ?? ''}?`}
        act="Take back"
        onClose={() => setAsking(false)}
        onAct={() => run.mutate({ acts: [data], keys }, { onSuccess: onClose })}
      >
        As far as it still stands. Nothing is deleted: it is reversed or taken apart, and written down as an act of
        yours.
      </AskDialog>
    </Modal>
  )
}

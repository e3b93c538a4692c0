import { type PreviewAsked, previewFile } from './previewFile.ts'

interface Message {
  readonly id: number
  readonly said: PreviewAsked['said']
  readonly aside: PreviewAsked['aside']
  /** The file, with the first message about it; the following ones are of the same. */
  readonly table: Pick<PreviewAsked, 'header' | 'rows'> | null
}

let held: Pick<PreviewAsked, 'header' | 'rows'> = { header: [], rows: [] }

self.onmessage = ({ data: { id, said, aside, table } }: MessageEvent<Message>) => {
  if (table) held = table
  try {
    self.postMessage({ id, preview: previewFile({ said, ...(aside && { aside }), ...held }) })
  } catch (error) {
    self.postMessage({ id, error: error instanceof Error ? error.message : 'the preview failed' })
  }
}

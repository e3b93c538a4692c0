import { type PreviewAsked, previewFile } from './previewFile.ts'

interface Message {
  readonly id: number
  readonly said: PreviewAsked['said']
  /** The file, with the first message about it; the following ones are of the same. */
  readonly table: Omit<PreviewAsked, 'said'> | null
}

let held: Omit<PreviewAsked, 'said'> = { header: [], rows: [] }

self.onmessage = ({ data: { id, said, table } }: MessageEvent<Message>) => {
  if (table) held = table
  try {
    self.postMessage({ id, preview: previewFile({ said, ...held }) })
  } catch (error) {
    self.postMessage({ id, error: error instanceof Error ? error.message : 'the preview failed' })
  }
}

import { useEffect, useRef, useState } from 'react'
import type { Preview, PreviewAsked } from './previewFile.ts'

interface Answer {
  readonly id: number
  readonly preview?: Preview
  readonly error?: string
}

/** What a file comes to, worked out beside the page: a key that is pressed meanwhile waits for nothing. The last one asked for is shown. */
export const usePreview = (asked: PreviewAsked | null): { preview: Preview | null; fresh: boolean } => {
  const worker = useRef<Worker | null>(null)
  const last = useRef(0)
  const [answer, setAnswer] = useState<{ preview: Preview; of: PreviewAsked } | null>(null)
  const of = useRef(new Map<number, PreviewAsked>())
  // The rows go over once: handing a million cells over with each key would hold the key up.
  const sent = useRef<PreviewAsked['rows'] | null>(null)
  useEffect(() => {
    const made = new Worker(new URL('./preview.worker.ts', import.meta.url), { type: 'module' })
    worker.current = made
    sent.current = null
    made.onmessage = ({ data }: MessageEvent<Answer>) => {
      const was = of.current.get(data.id)
      of.current.delete(data.id)
      if (data.id === last.current && data.preview && was) setAnswer({ preview: data.preview, of: was })
    }
    return () => made.terminate()
  }, [])
  useEffect(() => {
    if (asked === null) return
    last.current++
    of.current.set(last.current, asked)
    const { said, aside, header, rows } = asked
    const table = sent.current === rows ? null : { header, rows }
    sent.current = rows
    worker.current?.postMessage({ id: last.current, said, aside, table })
  }, [asked])
  return { preview: answer?.preview ?? null, fresh: answer !== null && answer.of === asked }
}

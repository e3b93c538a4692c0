import { type OpenItems, pairOpenItems } from '@culvert/contract'

self.onmessage = ({ data }: MessageEvent<{ readonly id: number; readonly work: OpenItems }>) => {
  try {
    self.postMessage({ id: data.id, proposals: pairOpenItems(data.work) })
  } catch (error) {
    self.postMessage({ id: data.id, error: error instanceof Error ? error.message : 'pairing failed' })
  }
}

import { type PreviewAsked, previewFile } from './previewFile.ts'

self.onmessage = ({ data }: MessageEvent<{ readonly id: number; readonly asked: PreviewAsked }>) => {
  try {
    self.postMessage({ id: data.id, preview: previewFile(data.asked) })
  } catch (error) {
    self.postMessage({ id: data.id, error: error instanceof Error ? error.message : 'the preview failed' })
  }
}

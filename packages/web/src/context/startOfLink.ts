import type { ProofDocumentRef, TraceStart } from '@culvert/contract'
import { settlementPath } from './settlementPath.ts'

/** Where a trace link leads: `order:90001` or `line:openhall/OH-1`; null for an ordinary address. */
export const startOfLink = (link: string): TraceStart | null => {
  if (link.startsWith('order:')) return { at: 'order', order: link.slice('order:'.length) }
  const entryLine = /^entry_line:(\d{4}-\d+)\/(\d+)$/.exec(link)
  if (entryLine) return { at: 'entry_line', entry: entryLine[1] as string, line: Number(entryLine[2]) }
  const line = /^line:([^/]+)\/(.+)$/s.exec(link)
  return line ? { at: 'line', source: line[1] as string, lineId: line[2] as string } : null
}

/** The page that shows a document of a proof; null for one that only a trace shows. */
export const pageOfRef = (ref: ProofDocumentRef, currency: string): string | null => {
  switch (ref.of) {
    case 'settlement':
      return ref.key === ''
        ? `/settlements?source=${encodeURIComponent(ref.source)}`
        : settlementPath({ source: ref.source, key: ref.key, currency })
    case 'entry':
      return `/books/entries/${ref.fiscalYear}-${ref.number}`
    case 'source':
      return `/sources/${encodeURIComponent(ref.source)}`
    case 'account':
      return `/books/register/${encodeURIComponent(ref.account)}`
    case 'order':
    case 'line':
      return null
  }
}

/** Where the trace of a document of a proof begins; null where nothing stands behind it. */
export const startOfRef = (ref: ProofDocumentRef, currency: string): TraceStart | null => {
  switch (ref.of) {
    case 'order':
      return { at: 'order', order: ref.order }
    case 'line':
      return { at: 'line', source: ref.source, lineId: ref.lineId }
    case 'settlement':
      return ref.key === '' ? null : { at: 'settlement', source: ref.source, key: ref.key, currency }
    case 'entry':
      return { at: 'entry', entry: `${ref.fiscalYear}-${ref.number}` }
    case 'source':
    case 'account':
      return null
  }
}

import type { TraceStart } from '@culvert/contract'

/** Where a trace link leads: `order:90001` or `line:openhall/OH-1`; null for an ordinary address. */
export const startOfLink = (link: string): TraceStart | null => {
  if (link.startsWith('order:')) return { at: 'order', order: link.slice('order:'.length) }
  const line = /^line:([^/]+)\/(.+)$/s.exec(link)
  return line ? { at: 'line', source: line[1] as string, lineId: line[2] as string } : null
}

import type { SavedOptions } from '@culvert/contract'
import { z } from 'zod'
import { countText } from '../ui/formats.ts'

/** What saving a source's options came to. */
export const savedOptionsText = ({ version, counted }: SavedOptions): string =>
  `Saved as version ${version} of the map.${counted > 0 ? ` ${countText(counted, 'line')} counted anew.` : ''}`

const counts = z.object({ added: z.number(), revised: z.number().default(0), same: z.number() })

/** What a pull brought; null where it brought nothing yet. */
export const pulledText = (outcome: unknown): string | null => {
  const read = counts.safeParse(outcome)
  if (!read.success) return null
  const { added, revised, same } = read.data
  const shown = (count: number) => count.toLocaleString('en-IE')
  return `Pulled: ${shown(added)} new, ${shown(revised)} corrected, ${shown(same)} known.`
}

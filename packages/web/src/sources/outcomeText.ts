import type { SavedOptions, UploadOutcome } from '@culvert/contract'
import { z } from 'zod'
import { countText } from '../ui/formats.ts'

/** What a file of a source brought. */
export const uploadedText = (name: string, outcome: UploadOutcome): string =>
  `${name}: ${countText(outcome.added, 'row')} new, ${outcome.revised} corrected, ${outcome.same} known already.${
    outcome.unknownColumns.length > 0 ? ` Columns kept without being used: ${outcome.unknownColumns.join(', ')}.` : ''
  }`

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

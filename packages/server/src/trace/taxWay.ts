import { isSupply, type TaxCondition, type TaxRow, taxedAs } from '@culvert/core'
import type { ResolvedPart, StoredLine } from '../activity/activityLines.ts'
import type { Supplies } from '../activity/supplies.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'

const conditionWords: Record<TaxCondition | 'from', string> = {
  label: 'tax label',
  region: 'region',
  class: 'class',
  kind: 'kind',
  source: 'source',
  from: 'date',
}

/** What a tax row asks for and gives, in a few words. */
export const taxRowText = (row: TaxRow): string => {
  const asked = [row.region, row.class, row.label, row.kind, row.source, row.from && `from ${row.from}`].filter(Boolean)
  return `Tax · ${asked.length > 0 ? asked.join(' · ') : 'all supplies'} → ${row.code ?? 'no tax on purpose'}`
}

/** Which tax row served a part of a line, why not the next, and what the part is taxed by; null where no row decides. */
export const taxWayOf = (
  line: StoredLine,
  { part, resolution }: ResolvedPart,
  { client, supplies, parts }: { client: ClientSetup; supplies: Supplies; parts: number },
): { title: string; link: string; why: string } | null => {
  const { taxRows } = client.setup
  if (!taxRows || !isSupply(part.kind) || (resolution.ok && resolution.elsewhere)) return null
  const choice = taxRows.explain(taxedAs(part, client.setup, resolution.route))
  const { of, date, region } = supplies.book.factsOf(supplies.lineOf(line.source, line.lineId))
  const why = [
    choice?.over[0] && `before a wider row, by ${conditionWords[choice.over[0].by]}`,
    of !== null && `taxed as ${of} of ${date}${region ? ` to ${region}` : ''}`,
    parts > 1 && `one of ${parts} parts, as its order’s goods are`,
  ].filter(Boolean)
  return {
    title: choice
      ? taxRowText(choice.row)
      : `No tax row${part.supply?.class ? ` for the class ${part.supply.class}` : ''}`,
    link: '/mapping/tax',
    why: why.map(text => ` · ${text}`).join(''),
  }
}

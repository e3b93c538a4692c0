/** Which source a channel's label of a means of payment stands for; a label that is missing is a source's own key, or none. */
export type GatewayLabels = ReadonlyMap<string, string>

/** The source that a line's label of a means of payment stands for; null without a label. */
export const gatewayOf = (line: { readonly gateway: string | null }, labels: GatewayLabels): string | null =>
  line.gateway === null ? null : (labels.get(line.gateway) ?? line.gateway)

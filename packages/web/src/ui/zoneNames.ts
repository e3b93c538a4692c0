/** IANA names of all time zones that the browser knows, in order. */
export const zoneNames: readonly string[] = Intl.supportedValuesOf('timeZone')

export const zoneText = (zone: string): string => zone.replaceAll('_', ' ')

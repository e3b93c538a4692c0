const named: readonly (readonly [RegExp, string])[] = [
  [/\bEdg\//, 'Edge'],
  [/\bFirefox\//, 'Firefox'],
  [/Chrome\//, 'Chromium'],
  [/\bSafari\//, 'Safari'],
]
const systems: readonly (readonly [RegExp, string])[] = [
  [/Android/, 'Android'],
  [/iPhone|iPad/, 'iOS'],
  [/Windows/, 'Windows'],
  [/Mac OS X/, 'macOS'],
  [/Linux/, 'Linux'],
]

/** A browser in two words, of what it says of itself; what it says where it is none that is known. */
export const agentText = (agent: string): string => {
  const browser = named.find(([sign]) => sign.test(agent))?.[1]
  const system = systems.find(([sign]) => sign.test(agent))?.[1]
  if (!browser) return agent === '' ? 'not told' : agent.slice(0, 60)
  return system ? `${browser}, ${system}` : browser
}

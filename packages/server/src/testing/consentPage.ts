import { expect } from 'vitest'

export interface Decision {
  readonly login: string
  readonly decision?: string
  readonly buyers?: boolean
}

/** Goes to a stand-in's consent page and decides there; what the browser comes back with. `base`: of the server that it comes back to. */
export const decideAt = async (
  address: string,
  base: string,
  { login, decision = 'grant', buyers = true }: Decision,
): Promise<{ state: string; code: string | null; error: string | null }> => {
  const page = await (await fetch(address)).text()
  expect(page).toContain('Culvert asks to')
  const fields = [...page.matchAll(/type="hidden" name="([^"]+)" value="([^"]*)"/g)].map(
    ([, name = '', value = '']) => [name, value.replaceAll('&amp;', '&')] as [string, string],
  )
  const response = await fetch(address.split('?')[0] ?? '', {
    method: 'POST',
    redirect: 'manual',
    body: new URLSearchParams([
      ...fields,
      ['login', login],
      ['decision', decision],
      ...(buyers ? [['buyers', 'yes']] : []),
    ] as [string, string][]),
  })
  const back = new URL(response.headers.get('location') ?? '')
  expect(`${back.origin}${back.pathname}`).toBe(`${new URL(base).origin}/connected`)
  return {
    state: back.searchParams.get('state') ?? '',
    code: back.searchParams.get('code'),
    error: back.searchParams.get('error'),
  }
}

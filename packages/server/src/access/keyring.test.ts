import { afterEach, describe, expect, it } from 'vitest'
import { CannotUnseal, type Sealed, seal, setKeyring, unseal } from './keyring.ts'

const [former, current] = ['the secret of before, of the tests', 'the secret of now, of the tests too']
afterEach(() => setKeyring(null))

describe('what is sealed', () => {
  it('opens to what it was, is another each time, and tells nothing', () => {
    setKeyring([current])
    const [first, second] = [
      seal({ key: 'k', secret: 'very secret' }, 'source 1 openhall'),
      seal({ key: 'k', secret: 'very secret' }, 'source 1 openhall'),
    ]
    expect(unseal(first, 'source 1 openhall')).toEqual({ key: 'k', secret: 'very secret' })
    expect(first.data).not.toBe(second.data)
    expect(first.iv).not.toBe(second.iv)
    expect(JSON.stringify(first)).not.toContain('very')
  })

  it('opens in no other place, and not where a bit of it is another', () => {
    setKeyring([current])
    const sealed = seal('x', 'source 1 openhall')
    expect(() => unseal(sealed, 'source 2 openhall')).toThrow(CannotUnseal)
    const flip = (text: string): string => {
      const bytes = Buffer.from(text, 'base64')
      bytes[0] = (bytes[0] ?? 0) ^ 1
      return bytes.toString('base64')
    }
    for (const part of ['iv', 'tag', 'data'] as const) {
      const changed: Sealed = { ...sealed, [part]: flip(sealed[part]) }
      expect(() => unseal(changed, 'source 1 openhall'), part).toThrow(CannotUnseal)
    }
    // A shorter tag would be guessed sooner.
    expect(() =>
      unseal(
        { ...sealed, tag: Buffer.from(sealed.tag, 'base64').subarray(0, 4).toString('base64') },
        'source 1 openhall',
      ),
    ).toThrow(CannotUnseal)
  })

  it('opens with a former secret as long as that is given', () => {
    setKeyring([former])
    const sealed = seal('x', 'bank 1 1000')
    setKeyring([current, former])
    expect(unseal(sealed, 'bank 1 1000')).toBe('x')
    setKeyring([current])
    expect(() => unseal(sealed, 'bank 1 1000')).toThrow('a secret that is not given')
  })
})

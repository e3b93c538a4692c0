import { lookup } from 'node:dns'
import type { LookupFunction } from 'node:net'
import ipaddr from 'ipaddr.js'
import { Agent, fetch, type RequestInit, type Response } from 'undici'
import { z } from 'zod'

/** An address that is not asked, and why. */
export class AddressNotAsked extends Error {
  override readonly name = 'AddressNotAsked'
}

const environment = z.object({
  /** Hosts of the inside network that may be asked all the same, separated by commas: `127.0.0.1:4781`, or `standins.inner` for any port of it. */
  CULVERT_INNER_HOSTS: z.string().default(''),
})

const allowedInside = (): ReadonlySet<string> =>
  new Set(
    environment
      .parse(process.env)
      .CULVERT_INNER_HOSTS.split(',')
      .map(one => one.trim().toLowerCase())
      .filter(one => one !== ''),
  )

// Everything that is not plainly out in the world: this machine, private and shared networks, link-local (where clouds tell their secrets), multicast, what is
// reserved, and IPv6 that carries an IPv4 address inside.
const isOutside = (address: string): boolean => {
  if (!ipaddr.isValid(address)) return false
  return ipaddr.process(address).range() === 'unicast'
}

/** Whether a host was allowed by name, though it may lead inside. */
const isAllowed = ({ hostname, host }: URL): boolean => {
  const allowed = allowedInside()
  return allowed.has(hostname.toLowerCase()) || allowed.has(host.toLowerCase())
}

/**
 * Looks at an address that somebody typed, before it is kept or asked: HTTPS to a public name, or a host that was allowed by name. What the name leads to is
 * looked at again each time it is asked. @throws AddressNotAsked
 */
export const checkAddress = (text: string): URL => {
  let url: URL
  try {
    url = new URL(text)
  } catch {
    throw new AddressNotAsked('it is no address')
  }
  if (url.protocol !== 'https:' && url.protocol !== 'http:') throw new AddressNotAsked('it is no web address')
  if (url.username !== '' || url.password !== '') throw new AddressNotAsked('it carries a name or password')
  if (isAllowed(url)) return url
  if (url.protocol !== 'https:') throw new AddressNotAsked('it is not encrypted (https)')
  const literal = url.hostname.replace(/^\[|\]$/g, '')
  if (ipaddr.isValid(literal) && !isOutside(literal)) throw new AddressNotAsked('it leads into this network')
  return url
}

// The very address that is connected to is the one that was looked at: a name that leads elsewhere a moment later gains nothing.
const lookupOutside: LookupFunction = (hostname, options, done) => {
  lookup(hostname, { ...options, all: true }, (error, addresses) => {
    if (error) return done(error, '')
    const inside = addresses.find(one => !isOutside(one.address))
    const [first] = addresses
    if (inside || !first) return done(new AddressNotAsked('its name leads into this network'), '')
    if (options.all) return done(null, addresses)
    done(null, first.address, first.family)
  })
}

const outside = new Agent({ connect: { lookup: lookupOutside, timeout: 10_000 } })
const inside = new Agent({ connect: { timeout: 10_000 } })

/** Asks an address that somebody typed, and follows no redirect: the one way in which that is done. @throws AddressNotAsked */
export const guardedFetch = async (
  address: string,
  init: Omit<RequestInit, 'dispatcher' | 'redirect'>,
): Promise<Response> => {
  const url = checkAddress(address)
  try {
    return await fetch(url, { ...init, redirect: 'manual', dispatcher: isAllowed(url) ? inside : outside })
  } catch (error) {
    if (error instanceof Error && error.cause instanceof AddressNotAsked) throw error.cause
    throw error
  }
}

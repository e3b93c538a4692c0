import { expect, it } from 'vitest'
import { proposeContacts } from './proposeContacts.ts'

const wanted = (name: string) => ({ key: name, name, sort: 'both' as const })
const known = [
  { code: 'S-1', name: 'OPENHALL Ltd.' },
  { code: 'S-2', name: 'Brook Pay Services' },
  { code: 'S-3', name: 'Fernstal' },
  { code: 'Tillstone', name: 'Somebody else' },
]
const useOf = (name: string) => proposeContacts([wanted(name)], known)[0]?.use ?? null

it('finds a contact by its folded name, and asks where a name is only like it', () => {
  expect(useOf('Openhall')).toEqual({ code: 'S-1', why: 'same_name' })
  expect(useOf('Fernstall')).toEqual({ code: 'S-3', why: 'like_it' })
  expect(useOf('Services Brook Pay Europe')).toEqual({ code: 'S-2', why: 'like_it' })
  expect(useOf('Thrimble')).toBeNull()
})

it('takes no short name for another', () => {
  expect(proposeContacts([wanted('Ivy')], [{ code: '1', name: 'Ivo' }])[0]?.use).toBeNull()
})

it('decides nothing between two of one name', () => {
  const twice = [...known, { code: 'S-9', name: 'Openhall' }]
  expect(proposeContacts([wanted('Openhall')], twice)[0]?.use).toEqual({ code: 'S-1', why: 'one_of_several' })
})

it('makes one of a name, under a number that is free', () => {
  const [till, again, pay] = proposeContacts([wanted('Tillstone'), wanted('TILLSTONE'), wanted('Thrimble')], known)
  // The number is another's, whom nobody meant.
  expect(till).toMatchObject({ use: null, make: { code: 'Tillstone 2', name: 'Tillstone' } })
  expect(again?.make).toEqual(till?.make)
  expect(proposeContacts([wanted('n'.repeat(300))], [{ code: 'n'.repeat(90), name: 'n' }])[0]?.make.code).toHaveLength(
    92,
  )
  expect(pay?.make).toEqual({ code: 'Thrimble', name: 'Thrimble' })
})

// @vitest-environment happy-dom
import { clientEndpoints, peopleEndpoints, rightsOfRole } from '@culvert/contract'
import { cleanup, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it } from 'vitest'
import { call } from '../context/request.ts'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { Gate } from './Gate.tsx'

afterEach(cleanup)

const session = {
  user: { name: 'Orla Quill', email: 'orla.quill@ternandtally.example' },
  practice: { name: 'Tern & Tally', role: 'owner' as const, rights: [...rightsOfRole.owner] },
  clients: [],
}
const nobody = { code: 'not_signed_in' }

it('shows where one signs in to whoever is not in, and says nothing of a session that ended', async () => {
  const server = stubServer()
  server.refuses(clientEndpoints.session, 401, 'Nobody is signed in.', nobody)
  server.answers(peopleEndpoints.signInChoices, { demo: [] })
  const asked = server.answers(peopleEndpoints.signIn, { next: 'second_factor' })
  drawPage(<Gate />, { path: '/', at: '/' })
  await userEvent.click(await screen.findByLabelText('Address'))
  await userEvent.paste('orla.quill@ternandtally.example')
  await userEvent.click(screen.getByLabelText('Password'))
  await userEvent.paste('six-kilns-by-the-lane')
  await userEvent.keyboard('{Enter}')
  expect(await screen.findByLabelText('Code')).toBeTruthy()
  expect(asked[0]?.body).toEqual({ email: 'orla.quill@ternandtally.example', password: 'six-kilns-by-the-lane' })
  expect(screen.queryByRole('dialog')).toBeNull()
})

it('asks for the password over the page when the session ended, and lets go of nothing', async () => {
  const server = stubServer()
  server.answers(clientEndpoints.session, session)
  server.refuses(clientEndpoints.description, 401, 'Nobody is signed in.', nobody)
  const asked = server.answers(peopleEndpoints.signIn, { next: 'in' })
  drawPage(<Gate />, { path: '/', at: '/' })
  await new Promise(resolve => setTimeout(resolve, 50))
  await expect(call(clientEndpoints.description)).rejects.toThrow('Nobody is signed in.')
  const password = await screen.findByLabelText('Password')
  expect(screen.getByLabelText('Address')).toHaveProperty('value', 'orla.quill@ternandtally.example')
  await userEvent.click(password)
  await userEvent.paste('six-kilns-by-the-lane')
  await userEvent.keyboard('{Enter}')
  await expect.poll(() => screen.queryByRole('dialog')).toBeNull()
  expect(asked).toHaveLength(1)
})

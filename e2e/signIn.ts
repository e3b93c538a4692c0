import { endpoints } from '@culvert/contract'
import { type APIRequestContext, expect, request } from '@playwright/test'

/** Where the application is reached: by name, so that whoever asks beside the pages sends the same cookies as they do. */
export const base = (process.env.CULVERT_URL ?? 'http://127.0.0.1:4780').replace('127.0.0.1', 'localhost')

/** Where it is kept that Orla is signed in. */
export const signedIn = `${process.env.BROWSED ?? '.data'}/e2e-signed-in.json`

const headers = { 'x-culvert': 'test' }

/** Signs one of the demo's people in, past the pages. */
export const signInAs = async (context: APIRequestContext, name: string): Promise<void> => {
  const choices = await context.get(`${base}/api${endpoints.signInChoices.path}`)
  const person = endpoints.signInChoices.answer.parse(await choices.json()).demo.find(one => one.name === name)
  const answer = await context.post(`${base}/api${endpoints.signIn.path}`, {
    headers,
    data: { email: person?.email, password: person?.password },
  })
  expect(answer.ok(), await answer.text()).toBe(true)
}

/** What a browser keeps in which Orla has signed in. */
export const keepOrla = async (): Promise<string> => {
  const context = await request.newContext()
  await signInAs(context, 'Orla Quill')
  await context.storageState({ path: signedIn })
  await context.dispose()
  return signedIn
}

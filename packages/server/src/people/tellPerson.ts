import type { Mail } from '../access/mail.ts'

const told = {
  new_browser: 'somebody, most likely you, signed in to Culvert from a browser that had not before',
  password: 'your password for Culvert was changed',
  factor_on: 'a second factor was set up for you in Culvert',
  factor_off: 'your second factor for Culvert was ended',
  address: 'your address for Culvert was changed',
} as const

/**
 * Tells a person by letter what was done to their way in. Nobody waits for it: whoever signs in must not be held up by a letter, nor learn from how long it takes.
 */
export const tellPerson = (mail: Mail, email: string, what: keyof typeof told): void => {
  void mail({
    to: email,
    subject: told[what].replace(/^./, first => first.toUpperCase()),
    text: `This tells you that ${told[what]}.\n\nIf it was you, there is nothing to do. If not, change your password at once, end all sessions on your account’s page, and tell an owner of the practice.\n`,
  }).catch(() => false)
}

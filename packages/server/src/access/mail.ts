import nodemailer from 'nodemailer'

export interface Letter {
  readonly to: string
  readonly subject: string
  readonly text: string
}

/** Sends a letter; false: there is no way to send one, and whoever asked hands it over themselves. */
export type Mail = (letter: Letter) => Promise<boolean>

/** Letters go by SMTP to the address that is given (`smtp://host:port`); without one, none goes. */
export const startMail = (url: string | undefined, from: string): Mail => {
  if (url === undefined || url === '') return () => Promise.resolve(false)
  const transport = nodemailer.createTransport(url, { connectionTimeout: 5000, socketTimeout: 10_000 } as object)
  return async letter => {
    await transport.sendMail({ from, ...letter })
    return true
  }
}

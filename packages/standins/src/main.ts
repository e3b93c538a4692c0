import { createStandIns } from './app.ts'
import { startMail } from './mail.ts'

const port = Number(process.env.STANDINS_PORT ?? 4781)
// Letters come in beside, at a port of their own.
const mail = startMail(Number(process.env.STANDINS_MAIL_PORT ?? port + 5))
const server = createStandIns(process.env.STANDINS_STORE ?? '.data/standins', mail.routes).listen(port, '127.0.0.1')
const stop = (): void => {
  server.close()
  server.closeAllConnections()
  process.exit(0)
}
process.on('SIGTERM', stop)
process.on('SIGINT', stop)

import { createStandIns } from './app.ts'

const port = Number(process.env.STANDINS_PORT ?? 4781)
const server = createStandIns(process.env.STANDINS_STORE ?? '.data/standins').listen(port, '127.0.0.1')
const stop = (): void => {
  server.close()
  server.closeAllConnections()
  process.exit(0)
}
process.on('SIGTERM', stop)
process.on('SIGINT', stop)

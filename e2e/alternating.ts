import { Agent, createServer, request } from 'node:http'

// Stands before several servers and sends each request to the next: whatever the tests do, they do to all of them at once.

const [port, ...servers] = process.argv.slice(2).map(Number)
if (port === undefined || servers.length < 2) throw new Error('alternating.ts PORT SERVER_PORT SERVER_PORT …')
// A connection for each request: one that is kept may just be closed by its server when the next is sent.
const agent = new Agent({ keepAlive: false })
let turn = 0

createServer((asked, answer) => {
  const forwarded = request(
    {
      agent,
      host: '127.0.0.1',
      port: servers[turn++ % servers.length],
      method: asked.method,
      path: asked.url,
      headers: asked.headers,
    },
    came => {
      answer.writeHead(came.statusCode ?? 502, came.headers)
      came.pipe(answer)
    },
  )
  forwarded.on('error', () => {
    if (!answer.headersSent) answer.writeHead(502)
    answer.end()
  })
  // Who goes away before the answer breaks off what was asked, as it would without anybody in between.
  answer.on('close', () => {
    if (!answer.writableFinished) forwarded.destroy()
  })
  asked.pipe(forwarded)
}).listen(port, '127.0.0.1')

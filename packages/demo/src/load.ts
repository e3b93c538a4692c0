import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { endpoints } from '@culvert/contract'
import { ask, call, signInAs, standins } from './asking.ts'
import { bankNumber } from './bank.ts'
import { makeCogwhistle } from './cogwhistle.ts'
import { activityColumns, bankColumns, csvFile, settlementColumns } from './files.ts'
import { germanExport, mt940File, ofxFile, planWorkbook, processorExport } from './foreignFiles.ts'
import { type Demo, makeKilnLane } from './kilnLane.ts'
import { makeKilnLaneShop } from './kilnLaneShop.ts'
import { loadCogwhistle } from './loadCogwhistle.ts'
import { bankCredentials, loadKilnLane } from './loadKilnLane.ts'
import { loadLarkwool } from './loadLarkwool.ts'
import { demoServices, makeSeconds } from './services.ts'
import { juneStatement, loadedBalance } from './statements.ts'

/** Makes Ben a junior and Mina the accountant of all clients. */
const letIn = async (): Promise<void> => {
  const { people, clients } = await call(endpoints.people)
  for (const { id, role } of people)
    if (role !== 'owner')
      await call(endpoints.setPerson, {
        params: { person: String(id) },
        body: { role, clients: clients.map(({ clientId }) => ({ clientId, role })) },
      })
}

const fillStandIns = async (demo: Demo): Promise<void> => {
  const bank = { number: bankNumber, lines: [...demo.bankLoaded, ...demo.bankStatement] }
  for (const [name, service] of Object.entries(demoServices(demo.standIn, bank)))
    await ask('PUT', `${standins}/control/services/${name}`, service)
  // What the application is told of them: where they are, and as what it is known there.
  const directory = process.env.CULVERT_SERVICES
  if (directory) writeFileSync(directory, JSON.stringify(await ask('GET', `${standins}/services.json`)))
  await ask('PUT', `${standins}/control/banks/skerrymoor`, {
    accounts: { [bankNumber]: [...demo.bankLoaded, ...demo.bankStatement] },
    grants: [{ ...bankCredentials, accounts: [bankNumber] }],
  })
}

/** The files that a bookkeeper brings in by hand, beside the demo's data. */
const writeFiles = async (demo: Demo): Promise<string> => {
  const folder = process.env.DEMO_FILES ?? '.data/demo-files'
  mkdirSync(folder, { recursive: true })
  writeFileSync(join(folder, 'skerrymoor-june.camt.xml'), juneStatement(demo))
  writeFileSync(join(folder, 'skerrymoor-june.csv'), csvFile(bankColumns, demo.bankStatement))
  writeFileSync(
    join(folder, 'openhall.activity.csv'),
    csvFile(activityColumns, demo.standIn.lines.slice(0, demo.loaded.lines.length)),
  )
  writeFileSync(join(folder, 'openhall.settlements.csv'), csvFile(settlementColumns, demo.loaded.settlements))
  writeFileSync(join(folder, 'fernstall-27-may.csv'), csvFile(activityColumns, makeCogwhistle().shopMissing))
  const june = [bankNumber, loadedBalance(demo), demo.bankStatement] as const
  writeFileSync(join(folder, 'skerrymoor-june.mt940'), mt940File(...june))
  writeFileSync(join(folder, 'skerrymoor-june.ofx'), ofxFile(...june))
  const may = makeCogwhistle().gateway.filter(row => (row.occurred_at as string).startsWith('2026-05-2'))
  writeFileSync(join(folder, 'brookpay-export.csv'), processorExport(may))
  const plans = makeKilnLaneShop().thrimble.filter(row => (row.occurred_at as string) >= '2026-04-01')
  await planWorkbook(plans, join(folder, 'thrimble-export.xlsx'))
  writeFileSync(join(folder, 'marktplatz-umsaetze.csv'), germanExport(makeSeconds().lines))
  return folder
}

await signInAs('Orla Quill')
const { clients } = await call(endpoints.session)
const demo = makeKilnLane()
const folder = await writeFiles(demo)
await fillStandIns(demo)
const isThere = (name: string): boolean => clients.some(client => client.name === name)
if (!isThere('Kiln Lane Ceramics')) await loadKilnLane(demo)
if (!isThere('Cogwhistle Workshop')) await loadCogwhistle()
if (!isThere('Larkwool Yarns')) await loadLarkwool()
console.error(`culvert: files to bring in by hand are in ${folder}`)
await letIn()

import { cpSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url))

/** What the built server reads beside its own code stands where its code looks for it: next to it. */
const besideTheCode = {
  name: 'beside-the-code',
  closeBundle: () => {
    for (const folder of ['migrations', 'landed'])
      cpSync(here(`./src/database/${folder}`), here(`./dist/${folder}`), {
        recursive: true,
        filter: path => !path.endsWith('.gz'),
      })
  },
}

/** The server built once, without a loader: our packages in it, all others as they are installed. */
export default defineConfig({
  root: here('.'),
  build: {
    ssr: true,
    target: 'node20',
    outDir: 'dist',
    emptyOutDir: true,
    sourcemap: true,
    rollupOptions: {
      input: {
        main: here('./src/main.ts'),
        worker: here('./src/worker.ts'),
        pairingThread: here('./src/bank/pairing.worker.ts'),
        sheetProcess: here('./src/files/sheet.process.ts'),
        prepare: here('./src/prepare.ts'),
        verifyActs: here('./src/verifyActs.ts'),
      },
      output: { entryFileNames: '[name].js', chunkFileNames: 'part-[hash].js' },
    },
  },
  ssr: { noExternal: [/^@culvert\//] },
  plugins: [besideTheCode],
})

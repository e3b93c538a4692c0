import { defineConfig } from 'vitest/config'

/** What breaks connections off or takes minutes: it runs in the lane of those that ask no database. */
const hard = ['crash', 'outage', 'database/races'].map(name => `packages/server/src/${name}.test.ts`)

export default defineConfig({
  test: {
    // What stands in for outside services answers on this machine.
    env: { CULVERT_INNER_HOSTS: '127.0.0.1' },
    testTimeout: 60_000,
    hookTimeout: 60_000,
    // The database tests of a lane share one server; a file at a time keeps its log readable and two cores enough for two lanes.
    fileParallelism: false,
    projects: [
      {
        extends: true,
        // A third of the time went into loading the same modules for each file anew; nothing in them holds state of a test.
        test: { name: 'server', isolate: false, include: ['packages/server/src/**/*.test.ts'], exclude: hard },
      },
      {
        extends: true,
        test: {
          name: 'core',
          isolate: false,
          include: [
            'packages/{core,contract,demo,standins}/src/**/*.test.ts',
            'packages/web/src/**/*.test.ts',
            ...hard,
          ],
          exclude: ['packages/web/src/context/*.test.ts'],
        },
      },
      {
        extends: true,
        // The kit keeps hold of its document: each file has one of its own.
        test: { name: 'web', include: ['packages/web/src/**/*.test.tsx', 'packages/web/src/context/*.test.ts'] },
      },
    ],
  },
})

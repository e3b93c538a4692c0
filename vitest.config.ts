import { defineConfig } from 'vitest/config'

/** What kills servers and breaks connections off waits for most of its time: it has a lane of its own, with long ones that no other lane waits for. */
const hard = ['crash', 'outage', 'sources/mutated', 'database/migrations'].map(
  name => `packages/server/src/${name}.test.ts`,
)
/** What changes roles of the whole cluster runs when nothing else does. */
const alone = ['packages/server/src/database/roles.test.ts']
/** What takes minutes runs in the lane of those that ask no database. */
const long = ['packages/server/src/database/races.test.ts']

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
        test: {
          name: 'server',
          isolate: false,
          include: ['packages/server/src/**/*.test.ts'],
          exclude: [...hard, ...long, ...alone],
        },
      },
      {
        extends: true,
        test: {
          name: 'core',
          isolate: false,
          include: [
            'packages/{core,contract,demo,standins}/src/**/*.test.ts',
            'packages/web/src/**/*.test.ts',
            ...long,
          ],
          exclude: ['packages/web/src/context/*.test.ts'],
        },
      },
      { extends: true, test: { name: 'hard', isolate: false, include: hard } },
      { extends: true, test: { name: 'alone', include: alone } },
      {
        extends: true,
        // The kit keeps hold of its document: each file has one of its own.
        test: { name: 'web', include: ['packages/web/src/**/*.test.tsx', 'packages/web/src/context/*.test.ts'] },
      },
    ],
  },
})

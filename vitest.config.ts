import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['packages/*/src/**/*.test.ts', 'packages/web/src/**/*.test.tsx'],
    testTimeout: 60_000,
    hookTimeout: 60_000,
    // The database tests share one server; a file at a time keeps its log readable and two cores enough.
    fileParallelism: false,
  },
})

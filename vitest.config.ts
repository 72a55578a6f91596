import { defineConfig } from 'vitest/config'

// Slow machines are allowed for: what hangs is found by any limit.
const shared = { restoreMocks: true, testTimeout: 90_000, hookTimeout: 120_000 }

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          ...shared,
          name: 'pure',
          sequence: { groupOrder: 0 },
          // The default leaves one processor of two idle.
          maxWorkers: 2,
          // Nothing here has a state of its own, so that what is loaded serves every file.
          isolate: false,
          include: ['core/**/*.test.ts', 'contract/**/*.test.ts', 'standin/**/*.test.ts', 'scripts/**/*.test.ts'],
        },
      },
      {
        test: {
          ...shared,
          name: 'web',
          sequence: { groupOrder: 0 },
          maxWorkers: 2,
          include: ['web/**/*.test.{ts,tsx}'],
        },
      },
      {
        test: {
          ...shared,
          name: 'server',
          sequence: { groupOrder: 1 },
          include: ['server/test/**/*.test.ts', 'server/src/**/*.test.ts'],
          globalSetup: ['scripts/lib/test-world.ts'],
          // Three on two processors: they wait for the database and for made-up slowness a good part of the time.
          maxWorkers: 3,
          // The program is loaded once a worker and not once a file, which took five minutes of two processors.
          isolate: false,
        },
      },
      {
        test: {
          ...shared,
          name: 'e2e',
          sequence: { groupOrder: 2 },
          include: ['e2e/**/*.test.ts'],
          testTimeout: 240_000,
          hookTimeout: 240_000,
          // Three at a time: each has a program, a database and a browser of its own, and waits for them most of the time.
          maxWorkers: 3,
        },
      },
    ],
  },
})

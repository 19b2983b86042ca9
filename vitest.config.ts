import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: [
      'core/**/*.test.ts',
      'api/**/*.test.ts',
      'cli/**/*.test.ts',
      'demo/**/*.test.ts',
      'threads/**/*.test.ts',
      'server/**/*.test.ts',
      'web/src/**/*.test.ts',
      'scripts/**/*.test.ts',
    ],
    globalSetup: ['server/tests/database.ts'],
    setupFiles: ['core/tests/seed.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    pool: 'forks',
    // many tests wait for programs that they start: one worker for each core keeps both busy
    maxWorkers: 2,
  },
});

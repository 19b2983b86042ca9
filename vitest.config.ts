import { defineConfig } from 'vitest/config';
import unit from './vitest.unit.config.ts';

export default defineConfig({
  test: {
    globalSetup: ['server/tests/database.ts'],
    // many tests wait for programs that they start: one worker for each core keeps both busy
    maxWorkers: 2,
    projects: [
      unit,
      {
        test: {
          name: 'with programs',
          include: [
            'cli/**/*.test.ts',
            'demo/**/*.test.ts',
            'threads/**/*.test.ts',
            'print/**/*.test.ts',
            'server/**/*.test.ts',
            'scripts/**/*.test.ts',
          ],
          setupFiles: ['core/tests/seed.ts'],
          testTimeout: 60_000,
          hookTimeout: 120_000,
          pool: 'forks',
        },
      },
    ],
  },
});

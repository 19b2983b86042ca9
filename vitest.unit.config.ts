import { defineConfig } from 'vitest/config';

/**
 * `npm run test:unit`: what needs neither a database nor other processes, to be run again and again while one works.
 */
export default defineConfig({
  test: {
    name: 'unit',
    include: ['api/**/*.test.ts', 'core/**/*.test.ts', 'web/src/**/*.test.ts'],
    setupFiles: ['core/tests/seed.ts'],
    testTimeout: 60_000,
    pool: 'forks',
    // nothing here leaves anything behind, so that files share what they import
    isolate: false,
  },
});

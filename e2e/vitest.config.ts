import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    root: import.meta.dirname,
    include: ['**/*.test.ts'],
    globalSetup: ['./testing/application.ts'],
    testTimeout: 300_000,
    hookTimeout: 180_000,
    pool: 'forks',
    fileParallelism: false,
    expect: { poll: { timeout: Number(process.env.E2E_WAIT ?? 45_000), interval: 80 } },
  },
});

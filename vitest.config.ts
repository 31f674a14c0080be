import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['packages/**/src/**/*.test.{ts,tsx}', 'demo/src/**/*.test.ts', 'e2e/src/**/*.test.ts'],
    globalSetup: ['./scripts/vitest-setup.mjs'],
    pool: 'forks',
    maxWorkers: 2,
    testTimeout: 60_000,
    hookTimeout: 120_000,
  },
});

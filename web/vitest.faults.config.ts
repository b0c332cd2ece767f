import { defineConfig } from 'vitest/config';

/** Devices against a real server that is killed: beside the other tests, as it needs a binary and a PostgreSQL. */
export default defineConfig({
  test: { environment: 'node', include: ['faults/**/*.test.ts'], pool: 'forks' },
  define: { __API__: '"faults"' },
});

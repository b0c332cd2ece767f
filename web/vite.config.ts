import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

// `npm run dev` works beside a server started with ./start.
const api = 'http://127.0.0.1:8787';

export default defineConfig({
  plugins: [react()],
  build: { target: 'es2022', sourcemap: false },
  server: { proxy: { '/api': api } },
  test: {
    environment: 'jsdom',
    include: ['src/**/*.test.{ts,tsx}'],
    setupFiles: ['src/testing-network.ts'],
    // A busy machine draws a dialog slowly.
    testTimeout: 20_000,
  },
});

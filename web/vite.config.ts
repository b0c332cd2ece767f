import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import react from '@vitejs/plugin-react';
import { VitePWA } from 'vite-plugin-pwa';
import type { Plugin } from 'vite';
import { defineConfig } from 'vitest/config';

// `npm run dev` works beside a server started with ./start.
const api = 'http://127.0.0.1:8787';

const described = readFileSync(new URL('../docs/openapi.json', import.meta.url));

/** Asks for the two fonts of every page beside its scripts, so that the first picture need not be laid out again for them. */
const fontsAhead: Plugin = {
  name: 'fonts-ahead',
  transformIndexHtml: {
    order: 'post',
    handler: (_, { bundle = {} }) =>
      Object.keys(bundle)
        .filter((file) => /-latin-wght-normal-.*\.woff2$/.test(file))
        .map((file) => ({
          tag: 'link',
          attrs: { rel: 'preload', as: 'font', type: 'font/woff2', crossorigin: true, href: `/${file}` },
        })),
  },
};

export default defineConfig({
  plugins: [
    react(),
    fontsAhead,
    // The pages are kept by the browser and open without network. What the server reads and writes is never kept here.
    VitePWA({
      injectRegister: null,
      manifest: {
        name: 'Bright Row',
        short_name: 'Bright Row',
        description: 'A mixed string class, looked at child by child.',
        display: 'standalone',
        background_color: '#f3ebdd',
        theme_color: '#f3ebdd',
        icons: [{ src: '/sign.svg', sizes: 'any', type: 'image/svg+xml' }],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,wasm,woff2}'],
        // Letters of other scripts, kept once a page had some.
        runtimeCaching: [
          {
            urlPattern: ({ sameOrigin, url }) => sameOrigin && url.pathname.startsWith('/fonts/'),
            handler: 'CacheFirst',
            options: { cacheName: 'fonts' },
          },
        ],
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//, /^\/healthz$/, /^\/readyz$/],
        skipWaiting: true,
        clientsClaim: true,
        cleanupOutdatedCaches: true,
      },
    }),
  ],
  define: { __API__: JSON.stringify(createHash('sha256').update(described).digest('hex').slice(0, 16)) },
  build: {
    target: 'es2022',
    sourcemap: false,
    modulePreload: { polyfill: false },
    rolldownOptions: {
      output: {
        // What the first picture needs is one file: thirty small ones cost a slow processor more than their bytes.
        codeSplitting: { groups: [{ name: 'first', tags: ['$initial'] }] },
      },
    },
  },
  server: { proxy: { '/api': api, '/fonts': api } },
  test: {
    environment: 'jsdom',
    include: ['src/**/*.test.{ts,tsx}'],
    setupFiles: ['src/testing/core.ts', 'src/testing/network.ts'],
    // A busy machine draws a dialog slowly.
    testTimeout: 20_000,
  },
});

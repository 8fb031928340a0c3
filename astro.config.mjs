import { createHash } from 'node:crypto';
import node from '@astrojs/node';
import react from '@astrojs/react';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'astro/config';
import wakeOnIdle from './node_modules/astro/dist/runtime/client/idle.prebuilt.js';
import wakeOnLoad from './node_modules/astro/dist/runtime/client/load.prebuilt.js';
import island from './node_modules/astro/dist/runtime/server/astro-island.prebuilt.js';

const port = process.env.PORT ?? '4310';

// one copy of React on the server, and a first page in half the time; the development server loads packages as they are
const bundled =
  process.env.NODE_ENV === 'production'
    ? [
        /react/,
        /use-sync-external-store/,
        'recharts',
        'class-validator',
        'class-transformer',
        'reflect-metadata',
        'radix-ui',
        /^@radix-ui\//,
        /^@dnd-kit\//,
        'comlink',
      ]
    : [];

/** The scripts that are written into pages; the development server writes others, anew each time. */
const frameScripts =
  process.env.NODE_ENV === 'production'
    ? [wakeOnLoad, wakeOnIdle, island].map((s) => `'sha256-${createHash('sha256').update(s).digest('base64')}'`).join(' ')
    : "'unsafe-inline'";

/** The pieces of `ui` in all their states, at /gallery of the development server. */
const gallery = {
  name: 'gallery',
  hooks: {
    'astro:config:setup': ({ command, injectRoute }) => {
      if (command === 'dev') injectRoute({ pattern: '/gallery', entrypoint: './gallery/index.astro' });
    },
  },
};

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'standalone' }),
  integrations: [react(), gallery],
  devToolbar: { enabled: false },
  server: { host: '127.0.0.1', port: Number(port) },
  // our own middleware checks origin and host for every method and content type
  security: { checkOrigin: false },
  vite: {
    plugins: [tailwindcss()],
    define: { FRAME_SCRIPTS: JSON.stringify(frameScripts) },
    // a script within a page would not be let run
    build: { assetsInlineLimit: 0 },
    worker: { format: 'es' },
    // licence texts stand in the packages; repeated in every script they made up half of some
    esbuild: { legalComments: 'none' },
    ssr: { noExternal: bundled },
  },
});

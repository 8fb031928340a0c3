import node from '@astrojs/node';
import react from '@astrojs/react';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'astro/config';

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
    worker: { format: 'es' },
    // licence texts stand in the packages; repeated in every script they made up half of some
    esbuild: { legalComments: 'none' },
    ssr: { noExternal: bundled },
  },
});

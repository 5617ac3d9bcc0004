import node from '@astrojs/node';
import react from '@astrojs/react';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'astro/config';

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'standalone' }),
  integrations: [react()],
  devToolbar: { enabled: false },
  // Without a list of domains the production build refuses every upload, even from its own pages. The list is
  // fixed when building, HOST and PORT when starting: which names are answered is decided in server/door.ts.
  security: { checkOrigin: true, allowedDomains: [{ protocol: 'http' }, { protocol: 'https' }] },
  vite: {
    plugins: [tailwindcss()],
    // Packages of many small files: a server that finds them in its own begins sooner.
    ssr: { noExternal: ['drizzle-orm', 'd3-array', 'comlink', 'csv-stringify'] },
    server: { watch: { ignored: ['**/data/**', '**/test-results/**'] } },
    // A script small enough to be put into the page would break the Content-Security-Policy.
    build: { chunkSizeWarningLimit: 900, assetsInlineLimit: 0 },
  },
});

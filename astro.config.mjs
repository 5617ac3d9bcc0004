import node from '@astrojs/node';
import react from '@astrojs/react';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'astro/config';

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'standalone' }),
  integrations: [react()],
  devToolbar: { enabled: false },
  // Without a list of domains the production build refuses every upload, even from its own pages.
  // The port is left open on purpose: it is chosen when the server starts.
  security: {
    checkOrigin: true,
    allowedDomains: [
      { hostname: '127.0.0.1', protocol: 'http' },
      { hostname: 'localhost', protocol: 'http' },
    ],
  },
  vite: {
    plugins: [tailwindcss()],
    server: { watch: { ignored: ['**/data/**', '**/test-results/**'] } },
    build: { chunkSizeWarningLimit: 900 },
  },
});

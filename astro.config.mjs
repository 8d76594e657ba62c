import node from '@astrojs/node';
import react from '@astrojs/react';
import { defineConfig } from 'astro/config';

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'standalone', experimentalDisableStreaming: true }),
  integrations: [react()],
  // The server's entry checks Host and Origin itself.
  security: { checkOrigin: false },
  devToolbar: { enabled: false },
  telemetry: false,
  vite: { build: { chunkSizeWarningLimit: 1500 } },
});

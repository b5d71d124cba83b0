import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';
import { chunkGroups } from './chunk-groups.ts';

export default defineConfig({
  plugins: [
    react(),
    chunkGroups(),
    // The whole app is on the device after the first visit. A newer one waits until no page of the older one is open, so
    // that no class finds half of its screens gone.
    VitePWA({
      registerType: 'prompt',
      injectRegister: null,
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,woff2}'],
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//],
        maximumFileSizeToCacheInBytes: 4_000_000,
      },
      manifest: {
        name: 'Ulkret',
        short_name: 'Ulkret',
        description: 'Where grappling reps end and why, and what to correct first.',
        start_url: '/',
        display: 'standalone',
        background_color: '#e4eaec',
        theme_color: '#0d4a52',
        icons: [{ src: '/icon.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
      },
    }),
  ],
  worker: { format: 'es' },
  build: {
    target: 'es2022',
    sourcemap: false,
    chunkSizeWarningLimit: 700,
  },
  server: { proxy: { '/api': 'http://127.0.0.1:4780' } },
});

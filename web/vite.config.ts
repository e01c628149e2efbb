import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';
import vuetify from 'vite-plugin-vuetify';

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 900 },
  server: {
    port: 4601,
    strictPort: true,
    proxy: { '/api': process.env['DRAVEX_API'] ?? 'http://127.0.0.1:4600' },
  },
});

import vue from '@vitejs/plugin-vue';
import { marked } from 'marked';
import { defineConfig, type Plugin } from 'vite';
import vuetify from 'vite-plugin-vuetify';

/** Makes pages of Markdown HTML when the application is built. */
const markdown: Plugin = {
  name: 'dravex-markdown',
  transform: (code, id) =>
    id.endsWith('.md')
      ? {
          code: `export default ${JSON.stringify(marked.parse(code, { async: false }))}`,
          map: null,
        }
      : undefined,
};

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true }), markdown],
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 900 },
  server: {
    port: 4601,
    strictPort: true,
    proxy: { '/api': process.env['DRAVEX_API'] ?? 'http://127.0.0.1:4600' },
  },
});

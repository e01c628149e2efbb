import { readdirSync } from 'node:fs';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';
import vuetify from 'vite-plugin-vuetify';

const src = new URL('../src/', import.meta.url).pathname;

/** The tests of what needs a page, built as the application is: they run under Mocha in `page.mjs`. */
export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
  logLevel: 'warn',
  build: {
    target: 'node20',
    outDir: new URL('dist', import.meta.url).pathname,
    emptyOutDir: true,
    minify: false,
    cssMinify: false,
    reportCompressedSize: false,
    lib: {
      entry: readdirSync(src, { recursive: true, encoding: 'utf8' })
        .filter((name) => name.endsWith('.page.test.ts'))
        .map((name) => src + name),
      formats: ['es'],
    },
    rollupOptions: { external: ['chai', 'fast-check', /^node:/] },
  },
});

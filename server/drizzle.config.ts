import { defineConfig } from 'drizzle-kit';

export default defineConfig({
  dialect: 'postgresql',
  schema: './src/api/tables.ts',
  out: './migrations',
  casing: 'snake_case',
});

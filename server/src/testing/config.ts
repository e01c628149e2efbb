import type { AppConfig } from '../api/app.ts';
import { readConfig } from '../platform/config.ts';

/** How servers of tests are set up: as nothing is said otherwise, and with a feed on this machine. */
export const TEST_CONFIG: AppConfig = readConfig({
  DATABASE_URL: 'postgres://nowhere',
  SESSION_SECRET: 'a secret only for tests',
  ALLOWED_NETWORKS: '127.0.0.0/8, ::1',
});

import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import express, { Router } from 'express';
import { nonceOf } from './http.ts';

/** What the built page has in place of the nonce. */
const NONCE_MARK = '__CSP_NONCE__';

/** Serves the built browser application; every address that is no file is its page. */
export function pageRoutes(folder: string): Router {
  const router = Router();
  const page = readFileSync(join(folder, 'index.html'), 'utf8');
  router.use(
    '/assets',
    express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
  );
  router.use(express.static(folder, { index: false }));
  router.get('/{*path}', (_request, response) => {
    response
      .set('cache-control', 'no-store')
      .type('html')
      .send(page.replaceAll(NONCE_MARK, nonceOf(response)));
  });
  return router;
}

import { randomBytes } from 'node:crypto';
import type { RequestHandler } from 'express';
import helmet from 'helmet';

/** A fresh nonce for every response; the page hands it to what makes style elements. */
const nonce: RequestHandler = (_request, response, next) => {
  response.locals['nonce'] = randomBytes(16).toString('base64');
  next();
};

/** Helmet with a content policy that allows our own files and nothing else. */
export function securityHeaders(options: { secure: boolean }): RequestHandler[] {
  const policy = helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'"],
        workerSrc: ["'self'"],
        styleSrc: [
          "'self'",
          (_request, response) =>
            `'nonce-${(response as unknown as { locals: { nonce: string } }).locals.nonce}'`,
        ],
        imgSrc: ["'self'", 'data:'],
        fontSrc: ["'self'"],
        connectSrc: ["'self'"],
        objectSrc: ["'none'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
    },
    strictTransportSecurity: options.secure,
    referrerPolicy: { policy: 'same-origin' },
  });
  return [nonce, policy];
}

/**
 * For the page that describes the API and nothing else: its package writes styles into the page.
 * Scripts stay those of our own files.
 */
export const ownStyles: RequestHandler = (_request, response, next) => {
  response.set(
    'content-security-policy',
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'",
  );
  next();
};

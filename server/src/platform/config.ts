import { z } from 'zod';

const schema = z.object({
  DATABASE_URL: z.string().min(1),
  SESSION_SECRET: z.string().min(16),
  PORT: z.coerce.number().int().min(0).max(65_535).default(4600),
  HOST: z.string().default('127.0.0.1'),
  /** Set to 1 where the application is reached by HTTPS. */
  SECURE_COOKIES: z.enum(['0', '1']).default('0'),
  /** The folder of the built browser application; without it only the API is served. */
  WEB_FOLDER: z.string().optional(),
  LOG_LEVEL: z.enum(['silent', 'error', 'warn', 'info', 'debug']).default('info'),
});

export interface Config {
  readonly databaseUrl: string;
  readonly sessionSecret: string;
  readonly port: number;
  readonly host: string;
  readonly secure: boolean;
  readonly webFolder: string | undefined;
  readonly logLevel: string;
}

/** Reads the environment. @throws Error that names each setting that is missing or wrong */
export function readConfig(environment: Record<string, string | undefined>): Config {
  const result = schema.safeParse(environment);
  if (!result.success) {
    const faults = result.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`);
    throw new Error(`The environment is not complete:\n  ${faults.join('\n  ')}`);
  }
  const settings = result.data;
  return {
    databaseUrl: settings.DATABASE_URL,
    sessionSecret: settings.SESSION_SECRET,
    port: settings.PORT,
    host: settings.HOST,
    secure: settings.SECURE_COOKIES === '1',
    webFolder: settings.WEB_FOLDER,
    logLevel: settings.LOG_LEVEL,
  };
}

import { readFileSync } from 'node:fs';
import { z } from 'zod';
import { isNetwork } from './networks.ts';

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
  /** Which proxies are believed about the address of who asks: names and networks, by commas. */
  TRUSTED_PROXIES: z.string().default('loopback'),
  /** By which keys of connections are encrypted; without it one is derived from SESSION_SECRET. */
  SECRET_KEY: z.string().min(16).optional(),
  SECRET_KEY_FILE: z.string().optional(),
  /** Networks of one's own that connections may ask, by commas: `10.1.0.0/16, 192.168.3.4`. */
  ALLOWED_NETWORKS: z
    .string()
    .default('')
    .transform((text) => text.split(',').flatMap((part) => part.trim() || []))
    .refine((parts) => parts.every(isNetwork), 'names something that is no address or network'),
  /** Without it there are no metrics. */
  METRICS_TOKEN: z.string().min(16).optional(),
  /** Who may make workspaces: those who own one, or whoever is signed in. */
  MAKE_WORKSPACES: z.enum(['owners', 'everybody']).default('owners'),
  /** 1 for a process that only answers reporting tools, on a replica of the database. */
  READ_ONLY: z.enum(['0', '1']).default('0'),
  /** A session ends when nothing was asked for so long, and in any case after so long. */
  SESSION_IDLE_MINUTES: z.coerce.number().min(1).max(10_080).default(480),
  SESSION_HOURS: z.coerce.number().min(1).max(8760).default(168),
});

export interface Config {
  readonly databaseUrl: string;
  readonly sessionSecret: string;
  readonly port: number;
  readonly host: string;
  readonly secure: boolean;
  readonly webFolder: string | undefined;
  readonly logLevel: string;
  readonly trustedProxies: string;
  /** What keys of connections are encrypted by; any text. */
  readonly secretKey: string;
  readonly allowedNetworks: readonly string[];
  readonly metricsToken: string | undefined;
  readonly makeWorkspaces: 'owners' | 'everybody';
  readonly readOnly: boolean;
  readonly sessionIdleMs: number;
  readonly sessionMs: number;
}

/** The secret in a file. @throws Error that says which file cannot be read */
function inFile(path: string): string {
  try {
    return readFileSync(path, 'utf8').trim();
  } catch {
    throw new Error(`SECRET_KEY_FILE: ${path} cannot be read`);
  }
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
    trustedProxies: settings.TRUSTED_PROXIES,
    secretKey:
      settings.SECRET_KEY ??
      (settings.SECRET_KEY_FILE === undefined
        ? settings.SESSION_SECRET
        : inFile(settings.SECRET_KEY_FILE)),
    allowedNetworks: settings.ALLOWED_NETWORKS,
    metricsToken: settings.METRICS_TOKEN,
    makeWorkspaces: settings.MAKE_WORKSPACES,
    readOnly: settings.READ_ONLY === '1',
    sessionIdleMs: settings.SESSION_IDLE_MINUTES * 60_000,
    sessionMs: settings.SESSION_HOURS * 3_600_000,
  };
}

/**
 * `dravex load FOLDER --server URL --email ADDRESS`, the password in DRAVEX_PASSWORD: makes a
 * workspace from a folder of files.
 */
import { parseArgs } from 'node:util';
import { Client, RequestFailed } from './client.ts';
import { loadFolder } from './load.ts';

const USAGE = `dravex load FOLDER --server URL --email ADDRESS

Makes a workspace from a folder of files (workspace.json, people.json, sales/*.csv, streams.json,
assumptions.json, budget-*.csv, targets.json). The password is read from DRAVEX_PASSWORD.
`;

function usage(message: string): never {
  process.stderr.write(`${message}\n\n${USAGE}`);
  process.exit(2);
}

function readArguments() {
  try {
    return parseArgs({
      allowPositionals: true,
      options: {
        server: { type: 'string', default: 'http://127.0.0.1:4600' },
        email: { type: 'string' },
        help: { type: 'boolean', default: false },
      },
    });
  } catch (error) {
    return usage(error instanceof Error ? error.message : String(error));
  }
}

const { values, positionals } = readArguments();
if (values.help) {
  process.stdout.write(USAGE);
  process.exit(0);
}
const [command, folder] = positionals;
const password = process.env['DRAVEX_PASSWORD'];
if (command !== 'load') usage(command ? `There is no command "${command}"` : 'Name a command');
if (folder === undefined) usage('Name the folder to load');
if (values.email === undefined) usage('Say who signs in with --email');
if (!password) usage('Put the password into DRAVEX_PASSWORD');

try {
  const client = new Client(values.server);
  await client.signIn(values.email, password);
  const id = await loadFolder(client, folder, (step) => process.stdout.write(`  ${step}\n`));
  process.stdout.write(`Workspace ${id} is loaded\n`);
} catch (error) {
  const known = error instanceof RequestFailed || error instanceof Error;
  process.stderr.write(`${known ? error.message : String(error)}\n`);
  process.exitCode = 1;
}

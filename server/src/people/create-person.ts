/**
 * Creates somebody who can sign in, from the command line: the way the first person comes in.
 * `DATABASE_URL=… node --import tsx create-person.ts EMAIL NAME`, the password on standard input.
 */
import { text } from 'node:stream/consumers';
import { newPersonSchema } from '@dravex/contract';
import { connect, migrateUp } from '../platform/database.ts';
import { createPerson } from './service.ts';

const [email = '', name = ''] = process.argv.slice(2);
const password = (await text(process.stdin)).trim();
const input = newPersonSchema.omit({ role: true }).safeParse({ email, name, password });
const url = process.env['DATABASE_URL'];
if (!input.success || !url) {
  const faults = input.error?.issues.map(({ message }) => message) ?? [];
  if (!url) faults.push('DATABASE_URL is not set');
  process.stderr.write(`${faults.join('\n')}\n`);
  process.exitCode = 2;
} else {
  const connections = connect(url);
  try {
    await migrateUp(connections);
    await createPerson(connections, input.data);
  } finally {
    await connections.close();
  }
}

/** The command-line tool in a process of its own: its arguments, its output, its exit code. */
import { dravex } from './commands.ts';

process.exitCode = await dravex(process.argv.slice(2), {
  out: (text) => process.stdout.write(text),
  err: (text) => process.stderr.write(text),
  password: process.env['DRAVEX_PASSWORD'],
});

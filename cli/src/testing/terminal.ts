import { dravex } from '../commands.ts';

/** What a call of the tool ended with. */
export interface Ended {
  readonly status: number;
  readonly out: string;
  readonly err: string;
}

/** Calls the tool in this process, as its main module does, and keeps what it writes. */
export async function called(args: readonly string[], password?: string): Promise<Ended> {
  let out = '';
  let err = '';
  const status = await dravex(args, {
    out: (text) => (out += text),
    err: (text) => (err += text),
    password,
  });
  return { status, out, err };
}

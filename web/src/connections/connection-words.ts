import type { Connection, ConnectionRun } from '@dravex/contract';

/** How often a connection can be read by itself, in minutes; null is only when somebody asks. */
export const TIMES: readonly { readonly value: number | null; readonly name: string }[] = [
  { value: 5, name: 'every 5 minutes' },
  { value: 15, name: 'every 15 minutes' },
  { value: 60, name: 'every hour' },
  { value: 1440, name: 'every day' },
  { value: null, name: 'only on request' },
];

/** How a connection stands, as a heading. @param when puts a moment into words */
export function connectionHeadline(
  connection: Connection | undefined,
  when: (moment: string) => string,
): string {
  if (!connection) return 'No order book is connected yet';
  const { name, awaySince, held, running, lastDoneAt } = connection;
  if (connection.keyMissing) return `${name} needs the key of its new address`;
  if (awaySince) return `${name} has not answered since ${when(awaySince)}`;
  if (held > 0) {
    return `${name}: ${held} ${held === 1 ? 'document is' : 'documents are'} on hold for a missing code`;
  }
  if (running) return `${name} is being imported`;
  return lastDoneAt
    ? `${name} is up to date as of ${when(lastDoneAt)}`
    : `${name} has not been imported yet`;
}

/** Where it is read from and when, in one line. */
export function connectionState(
  connection: Connection | undefined,
  when: (moment: string) => string,
): string {
  if (!connection) {
    return 'An order book delivers invoices and credit notes automatically, each once; corrections replace what was there.';
  }
  const every =
    TIMES.find(({ value }) => value === connection.everyMinutes)?.name ??
    `every ${connection.everyMinutes ?? 0} minutes`;
  const next = connection.nextRunAt ? `, next ${when(connection.nextRunAt)}` : '';
  return `${connection.url}, ${every}${next}`;
}

/** How a reading ended. */
export function outcomeOf({ state, message }: ConnectionRun): string {
  return state === 'failed' || state === 'stopped' ? message : state;
}

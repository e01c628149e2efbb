import { keepViewSchema } from '@dravex/contract';
import { namedThing, type Named } from '../journal/named.ts';
import { roomView } from './tables.ts';

/** A room as it was laid out, kept under a name. */
export const VIEW: Named<'view'> = {
  kind: 'view',
  word: 'view',
  table: roomView,
  value: keepViewSchema,
  stamp: (keptBy) => ({ keptBy, keptAt: new Date() }),
};

export const viewThing = namedThing(VIEW);

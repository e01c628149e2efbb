import { handLineThing } from '../actuals/hand-lines.ts';
import { importThing } from '../actuals/thing.ts';
import { cellThing, versionThing } from '../budgets/thing.ts';
import { memberThing } from '../dimensions/thing.ts';
import { assumptionThing } from '../drivers/thing.ts';
import { streamThing } from '../forecast/thing.ts';
import { membershipThing } from '../people/thing.ts';
import { targetThing } from '../targets/thing.ts';
import type { Thing } from './thing.ts';

/** Everything that can be taken back, by the name the journal has for it. */
export const THINGS: Readonly<Record<string, Thing>> = {
  assumption: assumptionThing,
  cell: cellThing,
  handLine: handLineThing,
  import: importThing,
  member: memberThing,
  membership: membershipThing,
  stream: streamThing,
  target: targetThing,
  version: versionThing,
};

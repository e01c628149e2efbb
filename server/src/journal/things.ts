import { handLineThing } from '../actuals/hand-lines.ts';
import { importThing, rememberedThing } from '../actuals/thing.ts';
import { cellThing, versionThing } from '../budgets/thing.ts';
import { assignmentThing, dimensionThing, memberThing } from '../dimensions/thing.ts';
import { assumptionThing, driverThing } from '../drivers/thing.ts';
import { accountThing, measureThing } from '../facts/thing.ts';
import { overrideThing, streamThing } from '../forecast/thing.ts';
import { membershipThing } from '../people/thing.ts';
import { targetThing } from '../targets/thing.ts';
import { viewThing } from '../views/thing.ts';
import type { Thing } from './thing.ts';

/** Everything that can be taken back, by the name the journal has for it. */
export const THINGS: Readonly<Record<string, Thing>> = {
  account: accountThing,
  assignment: assignmentThing,
  assumption: assumptionThing,
  cell: cellThing,
  dimension: dimensionThing,
  driver: driverThing,
  handLine: handLineThing,
  import: importThing,
  measure: measureThing,
  member: memberThing,
  membership: membershipThing,
  override: overrideThing,
  remembered: rememberedThing,
  stream: streamThing,
  target: targetThing,
  version: versionThing,
  view: viewThing,
};

import { handLineThing } from '../actuals/hand-line-thing.ts';
import { importThing, rememberedThing } from '../actuals/thing.ts';
import { cellThing, versionThing } from '../budgets/thing.ts';
import { assignmentThing, dimensionThing, memberThing } from '../dimensions/thing.ts';
import { adjustmentThing, assumptionThing, driverThing } from '../drivers/thing.ts';
import { accountThing, measureThing } from '../facts/thing.ts';
import { overrideThing, streamThing } from '../forecast/thing.ts';
import { membershipThing } from '../people/thing.ts';
import { targetThing } from '../targets/thing.ts';
import { viewThing } from '../views/thing.ts';
import { SCOPES, type ScopeColumn } from './scope-columns.ts';
import type { Affects, KeptKind, Thing } from './thing.ts';

const kept = (
  affects: Affects,
  thing: Thing | null = null,
  scopes: readonly ScopeColumn[] = [],
): KeptKind => ({ affects, thing, scopes });

/**
 * Everything that is kept, by the name the journal has for it. To add a kind is to add its file and
 * its line here; a kind that is not here cannot be written down.
 */
export const KINDS = {
  account: kept('nothing', accountThing),
  adjustment: kept('adjustment', adjustmentThing, [SCOPES.adjustment]),
  assignment: kept('plan', assignmentThing),
  assumption: kept('assumption', assumptionThing, [SCOPES.assumption]),
  cell: kept('version', cellThing),
  connection: kept('nothing'),
  dimension: kept('plan', dimensionThing),
  driver: kept('plan', driverThing),
  feed: kept('plan'),
  handLine: kept('plan', handLineThing),
  import: kept('plan', importThing, [SCOPES.observation, SCOPES.subscriber]),
  mapping: kept('nothing'),
  measure: kept('plan', measureThing),
  member: kept('plan', memberThing),
  membership: kept('nothing', membershipThing),
  override: kept('plan', overrideThing),
  remembered: kept('nothing', rememberedThing),
  stream: kept('plan', streamThing),
  target: kept('target', targetThing, [SCOPES.target]),
  version: kept('version', versionThing),
  view: kept('nothing', viewThing),
  workspace: kept('plan'),
} as const satisfies Readonly<Record<string, KeptKind>>;

export type Kind = keyof typeof KINDS;

/** A kind by its name in the journal; one that an earlier version knew affects everything. */
export function kindOf(name: string): KeptKind {
  return (KINDS as Readonly<Record<string, KeptKind>>)[name] ?? kept('plan');
}

/** Whether a change of a kind changes what the plan computes. */
export const changesPlan = (affects: Affects): boolean =>
  affects === 'plan' || affects === 'assumption' || affects === 'adjustment';

import { actualsInPlanFile } from '../actuals/in-plan-file.ts';
import { handLineThing } from '../actuals/hand-line-thing.ts';
import { importThing, rememberedThing } from '../actuals/thing.ts';
import { versionsInPlanFile } from '../budgets/in-plan-file.ts';
import { cellThing, subscriptionThing, versionThing } from '../budgets/thing.ts';
import { closesInPlanFile } from '../closing/in-plan-file.ts';
import { closeThing, closingRulesThing } from '../closing/thing.ts';
import {
  assignmentThing,
  combinationThing,
  dimensionThing,
  memberThing,
} from '../dimensions/thing.ts';
import {
  adjustmentsInPlanFile,
  assumptionsInPlanFile,
  driversInPlanFile,
} from '../drivers/in-plan-file.ts';
import { adjustmentThing, assumptionThing, driverThing } from '../drivers/thing.ts';
import { assignmentsInPlanFile, membersInPlanFile } from '../dimensions/in-plan-file.ts';
import { accountThing, measureThing } from '../facts/thing.ts';
import { overridesInPlanFile, streamsInPlanFile } from '../forecast/in-plan-file.ts';
import { overrideThing, streamThing } from '../forecast/thing.ts';
import { accountScopesInPlanFile } from '../ledger/in-plan-file.ts';
import { accountScopeThing } from '../ledger/thing.ts';
import { membershipThing } from '../people/thing.ts';
import { sheetsInPlanFile } from '../sheets/in-plan-file.ts';
import { sheetLineThing, sheetThing } from '../sheets/thing.ts';
import { cellsOnSheets, linesOnSheets, sheetsToStep } from '../sheets/theirs.ts';
import { targetsInPlanFile } from '../targets/in-plan-file.ts';
import { targetThing } from '../targets/thing.ts';
import { threadsInPlanFile } from '../threads/in-plan-file.ts';
import { threadThing } from '../threads/thing.ts';
import { viewThing } from '../views/thing.ts';
import { calendarThing } from '../workspaces/thing.ts';
import { SCOPES } from './scope-columns.ts';
import type { Affects, KeptKind, Theirs, Thing } from './thing.ts';

const kept = (
  affects: Affects,
  thing: Thing | null = null,
  {
    scopes = [],
    theirs = null,
    file = null,
    stays = false,
  }: Partial<Pick<KeptKind, 'scopes' | 'theirs' | 'file' | 'stays'>> = {},
): KeptKind => ({ affects, thing, scopes, theirs, file, stays });

/** What a thing itself refuses as it is written. */
const byItself: Theirs = () => Promise.resolve();

/**
 * Everything that is kept, by the name the journal has for it. To add a kind is to add its file and
 * its line here; a kind that is not here cannot be written down.
 */
export const KINDS = {
  account: kept('nothing', accountThing),
  accountScope: kept('nothing', accountScopeThing, {
    scopes: [SCOPES.accountScope],
    file: accountScopesInPlanFile,
  }),
  adjustment: kept('adjustment', adjustmentThing, {
    scopes: [SCOPES.adjustment],
    file: adjustmentsInPlanFile,
  }),
  assignment: kept('plan', assignmentThing, { file: assignmentsInPlanFile }),
  assumption: kept('assumption', assumptionThing, {
    scopes: [SCOPES.assumption],
    file: assumptionsInPlanFile,
  }),
  calendar: kept('plan', calendarThing),
  cell: kept('version', cellThing, { theirs: cellsOnSheets }),
  close: kept('plan', closeThing, { file: closesInPlanFile }),
  closingRules: kept('plan', closingRulesThing),
  combination: kept('plan', combinationThing),
  connection: kept('nothing'),
  dimension: kept('plan', dimensionThing),
  driver: kept('plan', driverThing, { file: driversInPlanFile }),
  feed: kept('plan'),
  handLine: kept('plan', handLineThing),
  import: kept('plan', importThing, {
    scopes: [SCOPES.observation, SCOPES.subscriber],
    file: actualsInPlanFile,
  }),
  mapping: kept('nothing'),
  // A combination that something names for the first time: no harm without it, and others may name it.
  madeCombination: kept('plan', null, { stays: true }),
  measure: kept('plan', measureThing),
  member: kept('plan', memberThing, { file: membersInPlanFile }),
  membership: kept('nothing', membershipThing),
  override: kept('override', overrideThing, { file: overridesInPlanFile }),
  remembered: kept('nothing', rememberedThing),
  // Before what names versions: a plan file is taken in by this order.
  version: kept('version', versionThing, { file: versionsInPlanFile }),
  sheet: kept('nothing', sheetThing, {
    scopes: [SCOPES.sheet],
    theirs: sheetsToStep,
    file: sheetsInPlanFile,
  }),
  sheetLine: kept('nothing', sheetLineThing, { scopes: [SCOPES.sheetLine], theirs: linesOnSheets }),
  subscription: kept('version', subscriptionThing),
  stream: kept('plan', streamThing, { file: streamsInPlanFile }),
  target: kept('target', targetThing, {
    scopes: [SCOPES.target],
    theirs: byItself,
    file: targetsInPlanFile,
  }),
  thread: kept('nothing', threadThing, { scopes: [SCOPES.thread], file: threadsInPlanFile }),
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
  ['plan', 'assumption', 'adjustment', 'override'].includes(affects);

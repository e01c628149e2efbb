/** Who sees a sheet, who fills it in, and which way it goes. */
import { holdsPart, plansIn, readsAllOf, type SheetState } from '@dravex/contract';
import type { Actor } from '../people/actor.ts';
import { conflict, forbidden } from '../platform/errors.ts';
import type { SheetRow } from './store.ts';

/** What a state is called in a sentence. */
const IN_WORDS: Readonly<Record<SheetState, string>> = {
  draft: 'is not handed out yet',
  handedOut: 'is handed out',
  handedIn: 'is handed in',
  questioned: 'was sent back with a question',
  agreed: 'is agreed',
};

const isTheirs = ({ kept }: SheetRow, { personId }: Actor): boolean => kept.person === personId;

/** Whether a sheet is in sight: for whoever reads all, and for whom it is once it is handed out. */
export function seesSheet(row: SheetRow, actor: Actor): boolean {
  return readsAllOf(actor.role) || (isTheirs(row, actor) && row.kept.state !== 'draft');
}

/** @throws HttpProblem 403 for somebody else's sheet */
export function mustSeeSheet(row: SheetRow, actor: Actor): void {
  if (!seesSheet(row, actor)) throw forbidden('This sheet is not handed out to you');
}

/** Whether an actor can fill a sheet in as it is now. */
export function canFillIn(row: SheetRow, actor: Actor): boolean {
  const { state } = row.kept;
  if (!row.versionOpen || state === 'agreed') return false;
  if (plansIn(actor.role)) return true;
  return (
    holdsPart(actor.role) &&
    isTheirs(row, actor) &&
    (state === 'handedOut' || state === 'questioned')
  );
}

/** @throws HttpProblem 403 for somebody else's; 409 for one that takes nothing now */
export function mustFillIn(row: SheetRow, actor: Actor): void {
  mustSeeSheet(row, actor);
  if (canFillIn(row, actor)) return;
  if (!plansIn(actor.role) && !isTheirs(row, actor)) {
    throw forbidden('Only whoever it is for fills in a sheet');
  }
  throw conflict(
    row.versionOpen
      ? `${row.kept.title} ${IN_WORDS[row.kept.state]}; it takes no numbers now`
      : `${row.versionName} is locked; its sheets can no longer be changed`,
  );
}

/** Where a sheet can go from where it is, by whom. */
const BY_PLANNERS: Readonly<Record<SheetState, readonly SheetState[]>> = {
  draft: ['handedOut'],
  handedOut: ['draft', 'handedIn'],
  handedIn: ['questioned', 'agreed'],
  questioned: ['draft', 'handedIn'],
  agreed: ['questioned'],
};
const BY_WHOEVER_FILLS: Readonly<Record<SheetState, readonly SheetState[]>> = {
  draft: [],
  handedOut: ['handedIn'],
  handedIn: [],
  questioned: ['handedIn'],
  agreed: [],
};

/** @throws HttpProblem 403 for somebody else's; 409 for a step that does not lead from here */
export function mustStep(row: SheetRow, actor: Actor, to: SheetState): void {
  mustSeeSheet(row, actor);
  const { state, title } = row.kept;
  if (BY_WHOEVER_FILLS[state].includes(to) && isTheirs(row, actor)) return;
  if (plansIn(actor.role)) {
    if (BY_PLANNERS[state].includes(to)) return;
  } else if (!isTheirs(row, actor) || !['handedIn', 'handedOut'].includes(to)) {
    throw forbidden('Whoever fills in a sheet hands it in; everything else is the planner’s');
  }
  throw conflict(`${title} ${IN_WORDS[state]}; nothing was changed`);
}

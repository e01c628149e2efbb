import type { ImportKind } from '@dravex/contract';
import type { LocationQuery } from 'vue-router';
import { TEXTS } from './texts.ts';

/** The views of Actuals, each with what a file is likely to hold that is imported there. */
export const VIEWS = [
  { key: 'table', name: TEXTS.salesByMonth, kind: 'sales' },
  { key: 'summary', name: TEXTS.summary, kind: 'sales' },
  { key: 'facts', name: TEXTS.measuredFacts, kind: 'facts' },
  { key: 'subscribers', name: TEXTS.subscribers, kind: 'subscribers' },
  { key: 'ledger', name: TEXTS.ledger, kind: 'ledger' },
] as const satisfies readonly { key: string; name: string; kind: ImportKind }[];

export type ActualsView = (typeof VIEWS)[number];

/** The view that an address asks for; without one, sales by month. */
export function viewIn({ view }: LocationQuery): ActualsView {
  return VIEWS.find(({ key }) => key === view) ?? VIEWS[0];
}

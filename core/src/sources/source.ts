import type { Span } from '../calendar/period.ts';

/** The objective of a fiscal year: revenue, in currency units. */
export interface Objective {
  readonly fiscalYear: number;
  readonly objective: number;
}

/** Whether of what happened only that counts which is in the books, and nothing entered by hand. */
interface FromBooks {
  readonly books?: true;
}

/** Whether closed months show the forecast that was kept when they were closed, where one was. */
interface WithKept {
  readonly kept?: true;
}

/** A kept version as it is, or as it was at a moment. */
export interface VersionAt {
  readonly id: number;
  /** A moment in UTC, `2026-11-20T10:00:00Z`: of what was typed since, nothing counts. */
  readonly at?: string | undefined;
}

/**
 * Where the numbers of a table come from: what happened, the forecast line (actuals of closed months
 * and the run of open ones), a kept version, the target of a fiscal year, or any of them twelve
 * months earlier. It is plain data:
 * questions, addresses and other processes carry it. `Sources` has the numbers.
 */
export type Source =
  | ({ readonly kind: 'actual' } & FromBooks)
  | ({ readonly kind: 'forecast' } & FromBooks & WithKept)
  | ({ readonly kind: 'version' } & VersionAt)
  | ({ readonly kind: 'target' } & Objective)
  | { readonly kind: 'yearBefore'; readonly of: Source };

/** The forecast line with, in closed months, the forecast that was kept at their close. */
export const KEPT_FORECAST: Source = { kind: 'forecast', kept: true };
export const ACTUAL: Source = { kind: 'actual' };
export const FORECAST: Source = { kind: 'forecast' };
/** A source of which only what is in the books counts; a plan has no other part. */
export function inBooks(source: Source): Source {
  switch (source.kind) {
    case 'actual':
    case 'forecast':
      return { ...source, books: true };
    case 'yearBefore':
      return yearBeforeSource(inBooks(source.of));
    default:
      return source;
  }
}
export const versionSource = (id: number, at?: string): Source =>
  at === undefined ? { kind: 'version', id } : { kind: 'version', id, at };
export const targetSource = (of: Objective): Source => ({ kind: 'target', ...of });
export const yearBeforeSource = (of: Source): Source => ({ kind: 'yearBefore', of });

/** What was sold a year before, and the year before that. */
export const LAST_YEAR: Source = yearBeforeSource(ACTUAL);
export const YEAR_BEFORE_LAST: Source = yearBeforeSource(LAST_YEAR);

/** Sources as an address names them; a version as `version:3`, or `version:3@2026-11-20T10:00:00Z`. */
const NAMED: Readonly<Record<string, Source>> = {
  actual: ACTUAL,
  forecast: FORECAST,
  lastYear: LAST_YEAR,
  yearBeforeLast: YEAR_BEFORE_LAST,
};
const VERSION = /^version:([1-9]\d{0,9})(?:@(\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ))?$/;

/** The source that an address names; undefined for a name that no source has. */
export function sourceNamed(text: string): Source | undefined {
  const [, version, at] = VERSION.exec(text) ?? [];
  if (version !== undefined) {
    if (at !== undefined && Number.isNaN(Date.parse(at))) return undefined;
    return versionSource(Number(version), at);
  }
  return Object.hasOwn(NAMED, text) ? NAMED[text] : undefined;
}

const atOf = ({ at }: VersionAt): string => (at === undefined ? '' : `@${at}`);

/** How an address names a source; undefined for one that no address can name. */
export function nameOfSource(source: Source): string | undefined {
  if (source.kind === 'version') return `version:${source.id}${atOf(source)}`;
  return Object.keys(NAMED).find((name) => sameSource(NAMED[name], source));
}

/** Whether two sources are the same. */
export function sameSource(a: Source | undefined, b: Source | undefined): boolean {
  return sourceKey(a) === sourceKey(b);
}

/** A source as a key; nothing for none. */
export function sourceKey(source: Source | undefined): string {
  if (!source) return '';
  if (source.kind === 'version') return `version ${source.id}${atOf(source)}`;
  if (source.kind === 'target') return `target ${source.fiscalYear} ${source.objective}`;
  if (source.kind === 'yearBefore') return `year before ${sourceKey(source.of)}`;
  const kept = source.kind === 'forecast' && source.kept ? ' as kept' : '';
  return `${source.kind}${kept}${source.books ? ' in the books' : ''}`;
}

/** The version in which a source's numbers are kept, if they are in one. */
export function versionIn(source: Source): VersionAt | undefined {
  const origin = originOf(source);
  return origin.kind === 'version' ? origin : undefined;
}

/** The source that has the numbers as its own, however many years they are moved. */
export function originOf(source: Source): Exclude<Source, { readonly kind: 'yearBefore' }> {
  return source.kind === 'yearBefore' ? originOf(source.of) : source;
}

/** The months that a source's numbers of some months are of, with the source that has them as its own. */
export function rootOf(
  source: Source,
  span: Span,
): { readonly source: Source; readonly span: Span } {
  if (source.kind !== 'yearBefore') return { source, span };
  return rootOf(source.of, { from: span.from - 12, to: span.to - 12 });
}

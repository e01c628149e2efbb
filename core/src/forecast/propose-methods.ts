/** Which method a stream could be forecast by, judged by its own history. */
import { BASELINES, historyOf } from '../baselines/baseline.ts';
import { league, type LeagueRow } from '../baselines/backtest.ts';
import type { ForecastResult } from '../measures/catalogue.ts';
import type { MethodCode, StreamSettings } from './plan.ts';
import type { Model } from './run.ts';

/** A method for a stream with the reason for it. */
export interface ProposedMethod {
  readonly stream: number;
  readonly method: MethodCode;
  readonly settings: StreamSettings;
  /** Why, in words; from the league where there is one. */
  readonly why: string;
  /** The league of baselines, the best first; empty where none could be tried. */
  readonly league: readonly LeagueRow[];
}

const YEAR = 12;
const score = ({ score: value }: LeagueRow): string => (value === null ? '–' : value.toFixed(2));

/**
 * Proposes a method for a stream from its closed months: the baseline that did best over the last
 * twelve, or, where history is too short to try any, what such a history can bear.
 * @throws RangeError for a stream that is not there
 */
export function proposeMethod(model: Model, id: number): ProposedMethod {
  const index = model.streams.findIndex(({ stream }) => stream.id === id);
  if (index < 0) throw new RangeError(`There is no stream ${id}`);
  const of = (result: ForecastResult): number[] =>
    historyOf([...(model.results[result][index]?.subarray(0, model.open) ?? [])]);
  const units = of('units');
  const measure = units.length > 0 ? 'units' : 'revenue';
  const history = measure === 'units' ? units : of('revenue');
  const { rows, best } = league(history);
  const tried = rows.filter(({ why }) => why === '');
  const [first, second] = tried;
  const base = { stream: id, league: rows };
  if (best !== null && first) {
    const next = second
      ? `; next ${BASELINES[second.kind].name.toLowerCase()}, ${score(second)}`
      : '';
    const why = `${BASELINES[best].name} did best over the last twelve months: scaled error ${score(first)}${next}`;
    return {
      ...base,
      method: 'baseline',
      settings: { why, baseline: { of: measure, kind: best, settings: {} } },
      why,
    };
  }
  if (history.length === 0) {
    const why = 'Nothing was sold yet: say how many and at what price';
    return { ...base, method: 'volumePrice', settings: { why }, why };
  }
  const months = `Sold for ${history.length} ${history.length === 1 ? 'month' : 'months'}`;
  if (history.length >= YEAR) {
    const why = `${months}: too short to try baselines, long enough to grow on last year`;
    return { ...base, method: 'growthLastYear', settings: { why, of: measure }, why };
  }
  const why = `${months}: no year to grow on yet, so it grows on the quarter before`;
  return { ...base, method: 'growthPeriod', settings: { why, of: measure, base: 'quarter' }, why };
}

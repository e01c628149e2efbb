/** Where new subscribers and churn lead: the level at which a constant gain ends, and when it is near. */
import type { Month } from '../calendar/month.ts';
import { ratio } from '../measures/nature.ts';
import { movementOf, type SubscriptionInput } from './movement.ts';
import { plateauOf, type Churn } from './survival.ts';
import type { ComputedSubscription } from './worth-table.ts';

/** What new subscribers and churn of a month lead to. */
export interface LeadsTo {
  /** New subscribers a month. */
  readonly gain: number;
  /** Null where the subscriptions are not left alike, or by age. */
  readonly churn: number | null;
  /** Subscribers; null where nobody leaves, so that there is no level at which it ends. */
  readonly plateau: number | null;
  /**
   * The first month at whose end subscribers are within a tenth of it, and from which side they come;
   * null where there is no such level, or where it is more than twenty years off.
   */
  readonly near: { readonly month: Month; readonly from: 'below' | 'above' | 'there' } | null;
}

/** How long one stays, of several subscriptions on average by their new ones. */
export const lifetimeOf = (leads: LeadsTo | null): number | null =>
  leads === null || leads.plateau === null ? null : ratio(leads.plateau, leads.gain);

/**
 * Where new subscribers and churn of a month lead, of one subscription or of several added up.
 * @param t the month, counted from the first open one, which is `first`
 */
export function leadsTo(
  computed: readonly ComputedSubscription[],
  t: number,
  first: Month,
): LeadsTo | null {
  if (computed.length === 0) return null;
  const streams = new Set(computed.map(({ stretch }) => stretch.stream.id));
  const each = computed.map(({ numbers: { input, changedFrom } }) => {
    const factor = input.churnFactor?.[t] ?? 1;
    const { churn, changes } = input;
    const now: Churn = churn.kind === 'byAge' ? churn : { ...churn, rate: churn.rate * factor };
    const gained = (input.starters[t] ?? Number.NaN) + (input.changedIn?.[t] ?? 0);
    // Who comes from a plan of the same scope was gained there.
    const inside = changedFrom
      .filter(({ giverId }) => streams.has(giverId))
      .reduce((sum, { series }) => sum + (series[t] ?? Number.NaN), 0);
    const { plateau } = plateauOf(gained, now, undefined, changes);
    return { gained, gain: gained - inside, churn: now, changes, plateau };
  });
  const gain = each.reduce((sum, one) => sum + one.gain, 0);
  if (Number.isNaN(gain)) return null;
  const endless = each.some((one) => one.plateau === null && one.gained > 0);
  // Subscriptions that are left alike are one; of others no rate is that of all.
  const [one] = each;
  const alike = one && each.every(({ churn, changes }) => !changes && sameChurn(churn, one.churn));
  const plateau = endless ? null : each.reduce((sum, { plateau: own }) => sum + (own ?? 0), 0);
  return {
    gain,
    churn: alike && one.churn.kind !== 'byAge' ? one.churn.rate : null,
    plateau,
    near: plateau === null || plateau === 0 ? null : nearOf(computed, t, first, plateau),
  };
}

const sameChurn = (one: Churn, other: Churn): boolean =>
  JSON.stringify(one) === JSON.stringify(other);

/** So near is nearly there, as a part of it. */
const NEAR = 0.1;
/** So many months on one looks for it. */
const AHEAD = 240;

/** When subscribers are near the level at which they end, if the month goes on as it is. */
function nearOf(
  computed: readonly ComputedSubscription[],
  t: number,
  first: Month,
  plateau: number,
): LeadsTo['near'] {
  const active = new Float64Array(t + 1 + AHEAD);
  for (const { numbers } of computed) {
    movementOf(goingOn(numbers.input, t)).active.forEach(
      (value, month) => (active[month] = (active[month] ?? 0) + value),
    );
  }
  const off = (value: number): number => (value - plateau) / plateau;
  const start = off(active[0] ?? Number.NaN);
  const from = Math.abs(start) <= NEAR + TINY ? 'there' : start < 0 ? 'below' : 'above';
  const month = active.findIndex((value) => Math.abs(off(value)) <= NEAR + TINY);
  return month < 0 ? null : { month: first + month, from };
}
/** Of nine tenths that are reached exactly. */
const TINY = 1e-9;

/** A subscription of which every month after one is as that one; for counts only. */
function goingOn(input: SubscriptionInput, t: number): SubscriptionInput {
  const months = t + 1 + AHEAD;
  const held = (of: ArrayLike<number>): Float64Array =>
    Float64Array.from({ length: months }, (_, month) => of[Math.min(month, t)] ?? Number.NaN);
  const { opening, churn, churnFactor, changedIn, changes, whole } = input;
  return {
    ...{ opening, churn, changes, whole },
    starters: held(input.starters),
    churnFactor: churnFactor && held(churnFactor),
    changedIn: changedIn && held(changedIn),
    price: new Float64Array(months),
    pricePolicy: 'current',
  };
}

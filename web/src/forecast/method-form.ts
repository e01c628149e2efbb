import type {
  BaselineKind,
  BaselineSettings,
  Funnel,
  MethodCode,
  Stream,
  StreamSettings,
  Subscription,
} from '@dravex/core';
import type { Formats } from '../format/numbers.ts';
import { blankFunnel } from './blank-funnel.ts';
import { TEXTS } from './texts.ts';

/** A name of a formula for what another forecast line comes to. */
export interface NameField {
  name: string;
  combination: number;
  measure: 'units' | 'revenue';
}

/** The form of a method: numbers are texts, as they are typed. */
export interface MethodForm {
  method: MethodCode;
  of: 'units' | 'revenue';
  base: 'month' | 'quarter';
  /** The combination whose units are followed; 0 for none. */
  follows: number;
  from: number;
  to: number;
  kind: BaselineKind | 'best';
  month: string;
  spanFrom: string;
  spanTo: string;
  growth: string;
  /** Calendar months in which nothing is sold. */
  blank: number[];
  units: string;
  revenue: string;
  names: NameField[];
  funnel: Funnel;
  subscription: SubscriptionForm;
  why: string;
}

/** How subscribers stay, pay and leave; numbers are texts, as they are typed. */
export interface SubscriptionForm {
  churn: Subscription['churn'];
  /** Rates by age in percent, with semicolons between them. */
  rates: string;
  term: string;
  pricePolicy: Subscription['pricePolicy'];
  billing: Subscription['billing'];
  /** Of yearly billing: what its units and revenue are. */
  counts: 'earned' | 'billed';
  /** Where new subscribers come from: the driver, or the funnel. */
  from: 'driver' | 'funnel';
  /** Subscribers by age, with semicolons between them; the last closed month's where it is empty. */
  opening: string;
  /** Of whole customers: the month from which months are counted; the first open one where empty. */
  countedFrom: string;
  /** The combination that subscribers change over to, 0 for none; at which age, and which share. */
  changesTo: number;
  changesAge: string;
  changesShare: string;
}

/** What a baseline continues, or a growth is on. */
export const CONTINUES = [
  { value: 'revenue', name: TEXTS.revenueAndUnitsWithIt },
  { value: 'units', name: TEXTS.unitsAtListPriceAnd },
];

/** The form that says how a line is forecast; the first choice of a new one without it. */
export function methodFormOf(
  stream: Pick<Stream, 'method' | 'settings'> | undefined,
  formats: Pick<Formats, 'typed'>,
): MethodForm {
  const settings = stream?.settings ?? {};
  const { attached, of, base, baseline, formula, funnel, why } = settings;
  return {
    method: stream?.method ?? 'volumePrice',
    of: baseline?.of ?? of ?? 'revenue',
    base: base ?? 'month',
    follows: attached?.combination ?? 0,
    from: attached?.from ?? 1,
    to: attached?.to ?? 12,
    kind: baseline?.kind ?? 'best',
    month: baseline?.settings.month ?? '',
    spanFrom: baseline?.settings.span?.from ?? '',
    spanTo: baseline?.settings.span?.to ?? '',
    growth: formats.typed(baseline?.settings.growth ?? null, true),
    blank: [...(baseline?.settings.blank ?? [])],
    units: formula?.units ?? '',
    revenue: formula?.revenue ?? '',
    names: (formula?.names ?? []).map((name) => ({ ...name })),
    funnel: JSON.parse(JSON.stringify(funnel ?? blankFunnel())) as Funnel,
    subscription: subscriptionFormOf(settings, formats),
    why: why ?? '',
  };
}

function subscriptionFormOf(
  { subscription: set, funnel, changesOver }: StreamSettings,
  { typed }: Pick<Formats, 'typed'>,
): SubscriptionForm {
  const listed = (values: readonly number[] | undefined, percent: boolean): string =>
    (values ?? []).map((value) => typed(value, percent)).join('; ');
  return {
    churn: set?.churn ?? 'constant',
    rates: listed(set?.rates, true),
    term: typed(set?.term ?? null, false),
    pricePolicy: set?.pricePolicy ?? 'current',
    billing: set?.billing ?? 'monthly',
    counts: set?.counts ?? 'earned',
    from: set !== undefined && funnel !== undefined ? 'funnel' : 'driver',
    opening: listed(set?.opening, false),
    countedFrom: set?.countedFrom ?? '',
    changesTo: changesOver?.combination ?? 0,
    changesAge: typed(changesOver?.age ?? null, false),
    changesShare: typed(changesOver?.share ?? null, true),
  };
}

/** What a form says of a subscription; what cannot be read is left out. */
function subscriptionOf(form: SubscriptionForm, { read }: Pick<Formats, 'read'>): Subscription {
  const { churn, counts, countedFrom } = form;
  // Nobody knows when each of whole customers came: they have nothing that goes by age.
  const whole = churn === 'whole';
  const pricePolicy = whole ? 'current' : form.pricePolicy;
  const billing = whole ? 'monthly' : form.billing;
  const numbers = (text: string, percent: boolean): number[] =>
    text
      .split(/[;\n]/)
      .filter((part) => part.trim() !== '')
      .map((part) => read(part, percent) ?? Number.NaN);
  const [rates, opening] = [numbers(form.rates, true), numbers(form.opening, false)];
  const term = read(form.term, false);
  return {
    ...{ churn, pricePolicy, billing },
    ...(billing === 'yearly' && counts === 'billed' ? { counts } : {}),
    ...(churn === 'byAge' ? { rates } : {}),
    ...(term === undefined ? {} : { term }),
    ...(whole && countedFrom !== '' ? { countedFrom } : {}),
    ...(opening.length > 0 ? { opening } : {}),
  };
}

/** Who changes over to another subscription; what cannot be read is refused where it is kept. */
function changesOf(
  { churn, changesTo, changesAge, changesShare }: SubscriptionForm,
  { read }: Pick<Formats, 'read'>,
): Pick<StreamSettings, 'changesOver'> {
  if (changesTo === 0 || churn === 'whole') return {};
  const age = read(changesAge, false) ?? Number.NaN;
  const share = read(changesShare, true) ?? Number.NaN;
  return { changesOver: { combination: changesTo, age, share } };
}

/** What is chosen of a baseline; what is left empty is found in the history. */
function baselineSettings(
  form: MethodForm,
  before: StreamSettings['baseline'],
  formats: Pick<Formats, 'read'>,
): BaselineSettings {
  const { kind, month, spanFrom, spanTo, growth, blank } = form;
  const rate = formats.read(growth, true);
  // What the form has no field for stays as it is, as long as the baseline stays the same one.
  const { months, rates } = before?.kind === kind ? before.settings : {};
  return {
    ...(months === undefined || spanFrom !== '' ? {} : { months }),
    ...(rates === undefined ? {} : { rates }),
    ...(kind === 'lastMonth' && month !== '' ? { month } : {}),
    ...(kind === 'mean' && spanFrom !== '' && spanTo !== ''
      ? { span: { from: spanFrom, to: spanTo } }
      : {}),
    ...(kind === 'sameMonthGrowth' && rate !== undefined ? { growth: rate } : {}),
    ...(blank.length > 0 ? { blank: [...blank].sort((one, other) => one - other) } : {}),
  };
}

/**
 * The settings that a form says.
 * @param before the settings that it began with
 */
export function settingsOf(
  form: MethodForm,
  before: StreamSettings | undefined,
  formats: Pick<Formats, 'read'>,
): StreamSettings {
  const why = form.why.trim() === '' ? {} : { why: form.why.trim() };
  const { of, base, follows, from, to, kind } = form;
  const text = (formula: string): string | null => (formula.trim() === '' ? null : formula);
  switch (form.method) {
    case 'volumePrice':
      return follows === 0 ? why : { attached: { combination: follows, from, to }, ...why };
    case 'growthLastYear':
      return { of, ...why };
    case 'growthPeriod':
      return { of, base, ...why };
    case 'funnel':
      return { funnel: form.funnel, ...why };
    case 'baseline': {
      const settings = baselineSettings(form, before?.baseline, formats);
      return { baseline: { of, kind, settings }, ...why };
    }
    case 'subscription': {
      // What the form has no field for stays as it is.
      const { deferred } = before?.subscription ?? {};
      const said = subscriptionOf(form.subscription, formats);
      const fed = form.subscription.from === 'funnel' ? { funnel: form.funnel } : {};
      const subscription = { ...said, ...(deferred ? { deferred } : {}) };
      return { subscription, ...changesOf(form.subscription, formats), ...fed, ...why };
    }
    case 'formula':
      return {
        formula: { units: text(form.units), revenue: text(form.revenue), names: form.names },
        ...why,
      };
    default:
      return why;
  }
}

import type { Typing } from '@dravex/contract';
import {
  checkDriver,
  compile,
  copyScope,
  coversMonth,
  driverRowHeads,
  driverNamed,
  driverNumbers,
  DriverRollUp,
  driverUses,
  flattened,
  funnelChain,
  lastSeason,
  observedHistory,
  planOf,
  profilePreview,
  referenceOf,
  streamsBelow,
  streamsIn,
  type Adjustment,
  type Assumption,
  type Driver,
  type DriverRowHead,
  type DriverNumbers,
  type DriverQuery,
  type DriverUse,
  type Flattened,
  type FunnelChain,
  type Month,
  type Problem,
  type Reference,
  type Scope,
} from '@dravex/core';
import { transfer } from 'comlink';
import type { Session } from './session.ts';

/** A typed value that would make different values equal. */
export interface Flattening extends Flattened {
  readonly scope: Scope;
  readonly month: string;
}

/** What sales say of a driver for a scope. */
export interface SaidOfDriver {
  readonly reference: Reference | null;
  /** By closed month; empty where they say nothing. */
  readonly history: readonly (number | null)[];
  /** Twelve indices with mean 1, January first. */
  readonly season: readonly number[] | null;
  /** How many forecast lines of the scope have the driver. */
  readonly lines: number;
}

/** A driver's table as it is sent: its rows where they are new, and the numbers of all of them. */
export interface DriverAnswer {
  readonly structure: number;
  readonly heads: readonly DriverRowHead[] | null;
  readonly numbers: DriverNumbers;
  /** What means are weighted by, in words; null where all weigh the same. */
  readonly weightedBy: string | null;
}

/** Drivers: their tables, what sales say of them, and what holds where. */
export function driverAnswers(session: Session) {
  return {
    /** What each driver feeds, and what is missing of it. */
    driverUses(): DriverUse[] {
      return driverUses(session.model);
    },

    /** What sales say of a driver for a scope: beside an input, and month by month. */
    said(driver: string, scope: Scope): SaidOfDriver {
      const { model } = session;
      return {
        reference: referenceOf(model, driver, scope),
        history: observedHistory(model, driver, scope),
        season: lastSeason(model, driver, scope),
        lines: streamsBelow(model, driver, scope).length,
      };
    },

    /** The funnels of a scope in a month, as chains. */
    funnelChain(scope: Scope, month: Month): FunnelChain {
      return funnelChain(session.model, scope, month);
    },

    /** What an assumption would give in every month of the plan; NaN where it does not cover. */
    profilePreview(assumption: Omit<Assumption, 'id'>): Float64Array {
      return profilePreview(session.model, assumption);
    },

    /** What is wrong with a driver as it is written, and what its formula comes to for a scope. */
    tryDriver(driver: Driver, scope: Scope): { problems: Problem[]; values: (number | null)[] } {
      const { model } = session;
      const plan = planOf(model);
      const drivers = [...plan.drivers.filter(({ code }) => code !== driver.code), driver];
      const tried = compile({ ...plan, drivers });
      const problems = [
        ...checkDriver(driver),
        ...tried.drivers.problems.filter(({ where }) => where['driver'] === driver.code),
      ];
      const [index] = streamsIn(tried, scope);
      const members = index === undefined ? undefined : tried.streams[index]?.combination.members;
      if (problems.length > 0 || index === undefined || !members) return { problems, values: [] };
      const { values } = tried.drivers.series(driver.code, members, index);
      return {
        problems,
        values: Array.from(values.subarray(tried.open), (v) => (Number.isNaN(v) ? null : v)),
      };
    },

    /**
     * A driver's table. Its rows are sent where whoever asks does not have them yet.
     * @param known the number of the rows that the page has
     */
    driverTable(query: DriverQuery, known: number): DriverAnswer {
      const { model } = session;
      const key = JSON.stringify(query);
      const kept = session.driverRowHeads;
      const made =
        kept?.key === key
          ? kept
          : { key, structure: (kept?.structure ?? 0) + 1, heads: driverRowHeads(model, query) };
      const filled = driverNumbers(model, made.heads, kept?.key === key ? kept.made : undefined);
      session.driverRowHeads = { ...made, made: filled };
      const { structure, heads } = made;
      // The page gets copies: what is kept here is what the next edit starts from.
      const numbers = {
        ...filled.numbers,
        values: filled.numbers.values.slice(),
        totals: filled.numbers.totals.slice(),
        holders: filled.numbers.holders.slice(),
        mixed: filled.numbers.mixed.slice(),
        own: filled.numbers.own.slice(),
      };
      const { values, totals, holders, mixed, own } = numbers;
      const { weightWords: weightedBy } = new DriverRollUp(model, driverNamed(model, query.driver));
      const sent = structure === known ? null : heads.heads;
      return transfer({ structure, heads: sent, numbers, weightedBy }, [
        values.buffer,
        totals.buffer,
        holders.buffer,
        mixed.buffer,
        own.buffer,
      ]);
    },

    /** The assumptions that cover a stream's month, the one that holds first. */
    covering(driver: string, scope: readonly number[], month: Month): Assumption[] {
      const { model } = session;
      const t = month - model.first;
      const holdings = model.drivers.holdings.get(driver);
      if (!holdings) return [];
      const stream = model.streams.find(({ combination }) =>
        model.tree.covers(scope, combination.members),
      );
      if (!stream) return [];
      const { members } = stream.combination;
      const holder = holdings.series(members).holders[t];
      const order = holdings.covering(members);
      const first = order.findIndex(({ id }) => id === holder);
      return first < 0 ? order : order.slice(first);
    },

    /** The adjustments that change a driver in a month anywhere in a scope, in the order they are laid over. */
    adjusting(driver: string, scope: readonly number[], month: Month): Adjustment[] {
      const { model } = session;
      const found = new Map<number, Adjustment>();
      for (const index of streamsBelow(model, driver, scope)) {
        const members = model.streams[index]?.combination.members ?? [];
        for (const one of model.drivers.adjustments.covering(driver, members)) {
          if (coversMonth(one, month)) found.set(one.id, one);
        }
      }
      return [...found.values()].sort((one, other) => one.id - other.id);
    },

    /** Which typed values would make different values equal: how many, and how different. */
    flattening(driver: string, { values }: Pick<Typing, 'values'>): Flattening[] {
      const { model } = session;
      return values.flatMap(({ scope, month, value }) => {
        const found = value === null ? undefined : flattened(model, driver, scope, month);
        return found && found.values > 1 ? [{ ...found, scope, month }] : [];
      });
    },

    /** How much copying a scope's assumptions would write and replace; of all drivers, or of one. */
    copied(from: Scope, into: Scope, driver: string | undefined): { put: number; drop: number } {
      const { assumptions, drivers, tree, plan } = session.model;
      const codes = driver === undefined ? plan.drivers.map(({ code }) => code) : [driver];
      const kept = { assumptions, adjustments: drivers.adjustments };
      const copies = Object.values(copyScope(kept, tree, from, into, new Set(codes)));
      const count = (which: 'put' | 'drop'): number =>
        copies.reduce((sum, copied) => sum + copied[which].length, 0);
      return { put: count('put'), drop: count('drop') };
    },
  };
}
